'use client';

import { useCallback, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { CutView, RecordingView } from '@/contract/views';
import { fromDb } from '@/core/signal/units';
import { useCommands } from '../data/commit';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { pageKey } from '../parts/focus';
import { useStatus } from '../shell/status';
import { soundNow } from '../sound/open-sound';
import { useAudition } from '../sound/use-audition';
import { cardWidth } from './CardStrip';
import { MakeKit } from './MakeKit';
import { RhythmBar } from './RhythmBar';
import { ShelfRow } from './ShelfRow';
import { ShelvesHead } from './ShelvesHead';
import { SliceReport } from './SliceReport';
import { barestOfEach, moveTo, partFrom, stretchOfShelved } from './shelving';
import { Time } from './Time';
import { useTogether } from './Together';
import { type ShelfOfSlices, type ShelvedSlice, useHeard } from './use-heard';
import { useRebuilt } from './use-rebuilt';
import { useRhythm } from './use-rhythm';
import { type ShelfChoice, useShelfChoice } from './use-shelf-choice';

/** Every slice is auditioned at this loudness, in LUFS, as far as its peaks allow. */
const MATCHED_LUFS = -20;
const LEAST_HEADROOM_DB = 1;

/** The slices of a recording on shelves, one a drum, barest first. */
export function Shelves({ view, withIds }: { view: CutView; withIds: readonly string[] }) {
  const { recording } = view;
  const views = useTogether(view, withIds);
  const kit = useKitDesk();
  const heard = useHeard(views);
  const rebuilt = useRebuilt(view);
  const audition = useAudition();
  const [hovers, setHovers] = useState(false);
  const shelves = heard?.shelves ?? NONE;
  const rhythm = useRhythm(recording, shelves);
  const hear = useCallback(
    ({ recording: of, slice, levels }: ShelvedSlice) => {
      const db = Math.min(MATCHED_LUFS - levels.lufs, -levels.peakDb - LEAST_HEADROOM_DB);
      const { startFrame, endFrame } = slice;
      audition.play({ recording: of, startFrame, endFrame, gain: Number.isFinite(db) ? fromDb(db) : 1 });
    },
    [audition.play],
  );
  const choice = useShelfChoice(shelves, hear);
  const { chosen, choose } = choice;
  const edits = useShelfEdits(choice);
  const lay = () => {
    if (chosen) kit.lay(stretchOfShelved(chosen.entry), null, 'next');
  };
  useHotkeys('left', () => choice.step(-1, 0), pageKey);
  useHotkeys('right', () => choice.step(1, 0), pageKey);
  useHotkeys('up', () => choice.step(0, -1), pageKey);
  useHotkeys('down', () => choice.step(0, 1), pageKey);
  useHotkeys('slash', choice.compare, pageKey);
  useHotkeys('enter', lay, pageKey);
  useHotkeys(
    'space',
    () => (soundNow()?.audition.playhead() ? audition.stop() : chosen && hear(chosen.entry)),
    pageKey,
  );

  const sliceCount = views.reduce((sum, { slices }) => sum + slices.length, 0);
  useStatus(
    chosen
      ? `Slice ${chosen.entry.number} · ← → barer or less · ↑ ↓ shelves · / the one before · Enter to the next free pad · Space hear`
      : `${shelves.length} shelves of ${sliceCount} slices · click one or press → · Ctrl click chooses several · drag one to a pad`,
  );
  const width = cardWidth(shelves);
  return (
    <>
      <ShelvesHead
        {...{ recording, withIds, sliceCount, hovers, setHovers }}
        shelfCount={shelves.length}
        unheard={heard?.unheard ?? 0}
        onLayBarest={() =>
          kit.layAll(barestOfEach(shelves), 'role', `laid the barest of each shelf of ${recording.title}`)
        }
      >
        <MakeKit
          recording={recording}
          shelves={shelves}
          onOpen={(id) => choose(id, false)}
          onPlay={() => rhythm.playFrom('kit')}
        />
      </ShelvesHead>
      <RhythmBar rhythm={rhythm} rebuilt={rebuilt}>
        {heard?.rhythm && <Time view={view} rhythm={heard.rhythm} chosenFrame={chosen?.entry.slice.startFrame} />}
      </RhythmBar>
      <div className="min-h-0 flex-1 overflow-y-auto bg-sheet" data-testid="shelves">
        {shelves.map((shelf, i) => (
          <ShelfRow
            key={shelf.key}
            {...{ shelf, shelves, hovers }}
            several={views.length > 1}
            cardWidth={width}
            number={i + 1}
            chosenId={choice.chosenId}
            selected={choice.selected}
            onChoose={choose}
            onHover={hear}
            onMerge={edits.merge}
            muted={rhythm.isMuted(shelf)}
            solo={rhythm.isSolo(shelf)}
            onMute={rhythm.mute}
            onSolo={rhythm.solo}
          />
        ))}
        {shelves.length === 0 && (
          <p className="p-6 text-center text-soft">
            {sliceCount === 0 ? 'There are no slices to listen to. Split the recording first.' : waitingFor(recording)}
          </p>
        )}
      </div>
      <Bench>
        <SliceReport
          mayStandIn={chosen?.entry.recording.id === recording.id}
          chosen={chosen?.entry}
          shelf={chosen?.shelf}
          count={choice.selected.size}
          shelves={shelves}
          onMove={edits.move}
          onPart={edits.part}
          onShow={(id) => choose(id, false)}
          standIn={chosen !== undefined && rhythm.standIn(chosen.shelf) === chosen.entry.slice.id}
          onStandIn={(on) => chosen && rhythm.setStandIn(chosen.shelf, on ? chosen.entry.slice.id : null)}
        />
      </Bench>
    </>
  );
}

const NONE: readonly ShelfOfSlices[] = [];

/** Why nothing stands on the shelves yet. */
function waitingFor(recording: RecordingView): string {
  if (recording.analysed) return 'Listening to the slices …';
  return recording.unlistened === null
    ? 'The recording is still being listened to for onsets.'
    : `It was not listened to: ${recording.unlistened}.`;
}

/** Moves slices between shelves, each move one edit. */
function useShelfEdits({ chosen, entries }: ShelfChoice) {
  const { commit } = useCommands();
  const newId = () => crypto.randomUUID();
  return {
    move: (to: ShelfOfSlices) => {
      const some = entries();
      void commit(`moved ${counted(some.length)} to another shelf`, moveTo(some, to, newId));
    },
    part: () => {
      if (!chosen) return;
      const some = entries().filter((e) => chosen.shelf.slices.includes(e));
      void commit(`gave ${counted(some.length)} a shelf`, partFrom(chosen.shelf, some, newId));
    },
    merge: (shelf: ShelfOfSlices, into: ShelfOfSlices) =>
      void commit('put two shelves together', moveTo(shelf.slices, into, newId)),
  };
}

function counted(n: number): string {
  return n === 1 ? 'a slice' : `${n} slices`;
}
