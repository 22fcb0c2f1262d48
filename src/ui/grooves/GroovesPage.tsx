'use client';

import { memo, useEffect, useMemo, useRef } from 'react';
import type { GrooveView, KitView } from '@/contract/views';
import { barStarts } from '@/core/groove/time';
import { useGroove } from '../data/queries';
import { notesToTake } from '../imports/use-notes';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { useStore } from '../parts/store';
import { useStatus } from '../shell/status';
import { BarStrip } from './BarStrip';
import { Grid } from './Grid';
import { GrooveChoice } from './GrooveChoice';
import { GrooveTools } from './GrooveTools';
import { NAMES_PX } from './measures';
import { useGridKeys } from './use-grid-keys';
import { type GrooveDesk, useGrooveDesk } from './use-groove-desk';
import { useGrooveList } from './use-grooves';
import { useNoteEdits } from './use-note-edits';
import { useScrolled } from './use-scrolled';

/** So many bars are seen at once where there are more. */
const BARS_SHOWN = 4;

export function GroovesPage() {
  const { list, error: unlisted, openId, addMidi } = useGrooveList();
  const dropped = useStore(notesToTake);
  useEffect(() => {
    const [first, ...rest] = dropped;
    // Names of grooves are free ones once the list is there.
    if (!first || !list) return;
    notesToTake.set(rest);
    void addMidi(first);
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
      <Bench />
    </>
  );
}

/** Not drawn anew as the grid is scrolled. */
const Tools = memo(function Tools({ desk, kit }: { desk: GrooveDesk; kit: KitView | null }) {
  return <GrooveTools desk={desk} kit={kit} list={<GrooveChoice />} />;
});

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
  const edits = useNoteEdits(desk);
  useGridKeys(desk, edits);
  useStatus(
    'Arrows move · Enter strikes or takes away · Shift ↑ ↓ harder, softer · Alt ← → a roll · [ ] bars · Space play · drag up: harder, aside: a roll',
  );
  const { groove } = view;
  const perTick = useMemo(() => {
    const shown = barStarts(groove)[Math.min(BARS_SHOWN, groove.bars)] as number;
    return Math.max(0.01, (scrolled.width - NAMES_PX - 12) / shown);
  }, [groove, scrolled.width]);
  return (
    <div className="flex min-h-0 flex-1 flex-col bg-sheet">
      <Tools desk={desk} kit={kit} />
      <BarStrip desk={desk} left={scrolled.left} perTick={perTick} />
      <Grid {...{ desk, edits, scroller, scrolled, perTick }} />
    </div>
  );
}
