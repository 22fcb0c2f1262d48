'use client';

import { useEffect, useMemo, useRef } from 'react';
import type { GrooveView } from '@/contract/views';
import { barStarts } from '@/core/groove/time';
import { useGroove } from '../data/queries';
import { notesToTake } from '../imports/use-notes';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { useStore } from '../parts/store';
import { useStatus } from '../shell/status';
import { BarStrip } from './BarStrip';
import { ChainDialog } from './ChainDialog';
import { usePublishedDesk } from './desk-now';
import { Grid } from './Grid';
import { GrooveChoice } from './GrooveChoice';
import { GrooveTools } from './GrooveTools';
import { LanePanel } from './LanePanel';
import { NAMES_PX } from './measures';
import { NotePanel, notePanel } from './NotePanel';
import { TrialBar } from './TrialBar';
import { trial } from './trial';
import { useBeneath } from './use-beneath';
import { useCellInView } from './use-cell-in-view';
import { useGridKeys } from './use-grid-keys';
import { useGrooveActions } from './use-groove-actions';
import { type GrooveDesk, useGrooveDesk } from './use-groove-desk';
import { useGrooveList } from './use-grooves';
import { laneShown } from './use-lane';
import { useNoteEdits } from './use-note-edits';
import { useScrolled } from './use-scrolled';
import { useSelectionEdits } from './use-selection-edits';
import { useSelectionKeys } from './use-selection-keys';

/** So many bars are seen at once where there are more. */
const BARS_SHOWN = 4;

export function GroovesPage() {
  const { list, error: unlisted, openId, addMidi } = useGrooveList();
  const dropped = useStore(notesToTake);
  useEffect(() => {
    // Names of grooves are free ones once the list is there.
    if (dropped.length === 0 || !list) return;
    notesToTake.set([]);
    void addMidi(dropped);
  }, [dropped, list, addMidi]);
  const { data: view, error: unread } = useGroove(openId);
  const error = unread ?? unlisted;
  return (
    <>
      {error && !view && (!list || list.length > 0) ? (
        <p className="m-auto text-madder">The groove could not be read: {error.message}</p>
      ) : list?.length === 0 ? (
        <Empty />
      ) : view ? (
        <Desk key={view.groove.id} view={view} />
      ) : (
        <p className="m-auto text-soft">Opening the groove …</p>
      )}
      {(!view || list?.length === 0) && <Bench />}
      <ChainDialog />
    </>
  );
}

function Empty() {
  useStatus('');
  return (
    <div className="m-auto max-w-[460px] text-center">
      <p className="font-head text-2xl">No groove yet</p>
      <p className="mt-2 mb-4 text-soft">
        A groove is a rhythm of notes for roles - kick, snare, closed hat - so that it plays any kit. Begin with an
        empty one, with one of ours, or with a MIDI file.
      </p>
      <GrooveChoice label="Begin a groove" />
    </div>
  );
}

function Desk({ view }: { view: GrooveView }) {
  const { view: kit } = useKitDesk();
  const scroller = useRef<HTMLDivElement>(null);
  const scrolled = useScrolled(scroller);
  const desk = useGrooveDesk(view, kit);
  useBeneath(desk.view.groove.bpm);
  const edits = useNoteEdits(desk);
  const selection = useSelectionEdits(desk);
  usePublishedDesk(desk, selection);
  useGridKeys(desk, edits, selection);
  useSelectionKeys(desk, selection);
  useGrooveActions(desk, edits);
  const isOffered = useStore(trial, (now) => now !== null && !now.isQuiet);
  const lane = useStore(laneShown);
  const hasValues = useStore(notePanel);
  useStatus(desk.look === 'grid' ? GRID_KEYS : NOTE_KEYS);
  const { groove } = desk.view;
  const perTick = useMemo(() => {
    const shown = barStarts(groove)[Math.min(BARS_SHOWN, groove.bars)] as number;
    return Math.max(0.01, (scrolled.width - NAMES_PX - 12) / shown);
  }, [groove, scrolled.width]);
  useCellInView(scroller, desk, perTick, scrolled.height);
  return (
    <>
      <div className="flex min-h-0 flex-1 flex-col bg-sheet">
        {isOffered ? <TrialBar /> : <Tools desk={desk} />}
        <BarStrip desk={desk} left={scrolled.left} perTick={perTick} />
        <Grid {...{ desk, edits, selection, scroller, scrolled, perTick }} />
        {lane && <LanePanel desk={desk} left={scrolled.left} perTick={perTick} />}
      </div>
      <Bench>{hasValues ? <NotePanel desk={desk} edits={selection} /> : undefined}</Bench>
    </>
  );
}

/** The line of tools, which need not be drawn anew for a stroke. */
function Tools({ desk }: { desk: GrooveDesk }) {
  const { step, setStep, bar, lastBar, plays, setPlays, follows, setFollows, isRunning } = desk;
  return (
    <GrooveTools
      {...{ step, setStep, bar, lastBar, plays, setPlays, follows, setFollows, isRunning }}
      groove={desk.view.groove}
      selected={desk.selected.size}
    />
  );
}

const GRID_KEYS =
  'Arrows move · Enter strikes or takes away · Shift ↑ ↓ harder, softer · Alt ← → a roll · [ ] bars · Space play · drag up: harder, aside: a roll';
const NOTE_KEYS =
  'Drag moves, at its end makes longer, on free ground frames · Ctrl drag copies · Ctrl ← → a tick, with Shift a millisecond · Ctrl C V · Shift ← → selects';
