'use client';

import Link from 'next/link';
import { useCallback, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { CutView } from '@/contract/views';
import { fromDb } from '@/core/signal/units';
import { useCommands } from '../data/commit';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { length } from '../parts/figures';
import { tell } from '../parts/notice';
import { useStatus } from '../shell/status';
import { soundNow } from '../sound/sound';
import { useAudition } from '../sound/use-audition';
import { cardWidth } from './CardStrip';
import { MakeKit } from './MakeKit';
import { RhythmBar } from './RhythmBar';
import { ShelfRow } from './ShelfRow';
import { SliceReport } from './SliceReport';
import { barestOfEach, moveTo, partFrom, stretchOfShelved } from './shelving';
import { Time } from './Time';
import { Together, useTogether } from './Together';
import { type ShelfOfSlices, type ShelvedSlice, useHeard } from './use-heard';
import { useRebuilt } from './use-rebuilt';
import { useRhythm } from './use-rhythm';

/** Everything is heard at this loudness, in LUFS, as far as its peaks allow. */
const MATCHED_LUFS = -20;
const LEAST_HEADROOM_DB = 1;

/** The slices of a recording on shelves, one a drum, barest first. */
export function Shelves({ view, withIds }: { view: CutView; withIds: readonly string[] }) {
  const { recording } = view;
  const views = useTogether(view, withIds);
  const { commit } = useCommands();
  const kit = useKitDesk();
  const heard = useHeard(views);
  const rebuilt = useRebuilt(view);
  const audition = useAudition();
  const [hovers, setHovers] = useState(false);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  /** The slice that was chosen before, which one key compares with. */
  const before = useRef<string | null>(null);

  const shelves = heard?.shelves ?? NONE;
  const rhythm = useRhythm(recording, shelves);
  const several = views.length > 1;
  const places = useMemo(() => placesOf(shelves), [shelves]);
  const chosen = chosenId === null ? undefined : places.get(chosenId);
  const selected = useMemo(
    () => new Set([...others, ...(chosenId ? [chosenId] : [])].filter((id) => places.has(id))),
    [others, chosenId, places],
  );

  const sound = useCallback(
    ({ recording: of, slice, levels }: ShelvedSlice) => {
      const wanted = MATCHED_LUFS - levels.lufs;
      const db = Math.min(wanted, -levels.peakDb - LEAST_HEADROOM_DB);
      const { startFrame, endFrame } = slice;
      audition.play({ recording: of, startFrame, endFrame, gain: Number.isFinite(db) ? fromDb(db) : 1 });
    },
    [audition.play],
  );
  const choose = useCallback(
    (id: string, also: boolean) => {
      const place = places.get(id);
      if (!place) return;
      setChosenId((old) => {
        if (old !== id) before.current = old;
        setOthers((known) => (also ? new Set([...known, ...(old ? [old] : [])]) : new Set()));
        return id;
      });
      sound(place.entry);
    },
    [places, sound],
  );
  const step = (along: number, across: number) => {
    const first = shelves[0]?.slices[0];
    if (!chosen) {
      if (first) choose(first.slice.id, false);
      return;
    }
    const shelf = shelves[Math.max(0, Math.min(shelves.length - 1, chosen.shelfIndex + across))];
    const at = across === 0 ? Math.max(0, Math.min((shelf?.slices.length ?? 1) - 1, chosen.index + along)) : 0;
    const next = shelf?.slices[at];
    if (next) choose(next.slice.id, false);
  };
  const compare = () => {
    const other = before.current;
    if (other && places.has(other)) choose(other, false);
    else tell('Choose two slices one after the other: this key then goes from one to the other.');
  };
  const lay = () => {
    if (chosen) kit.lay(stretchOfShelved(chosen.entry), null, 'next');
  };
  const on = { preventDefault: true } as const;
  useHotkeys('left', () => step(-1, 0), on);
  useHotkeys('right', () => step(1, 0), on);
  useHotkeys('up', () => step(0, -1), on);
  useHotkeys('down', () => step(0, 1), on);
  useHotkeys('slash', compare, on);
  useHotkeys('enter', lay, on);
  useHotkeys('space', () => (soundNow()?.audition.playhead() ? audition.stop() : chosen && sound(chosen.entry)), on);

  const entries = () => [...selected].flatMap((id) => places.get(id)?.entry ?? []);
  const move = (to: ShelfOfSlices) => {
    const some = entries();
    void commit(
      `moved ${counted(some.length)} to another shelf`,
      moveTo(some, to, () => crypto.randomUUID()),
    );
  };
  const part = () => {
    if (!chosen) return;
    const some = entries().filter((e) => chosen.shelf.slices.includes(e));
    void commit(
      `gave ${counted(some.length)} a shelf`,
      partFrom(chosen.shelf, some, () => crypto.randomUUID()),
    );
  };
  const merge = (shelf: ShelfOfSlices, into: ShelfOfSlices) =>
    void commit(
      'put two shelves together',
      moveTo(shelf.slices, into, () => crypto.randomUUID()),
    );
  const layBarest = () => {
    kit.layAll(barestOfEach(shelves), 'role', `laid the barest of each shelf of ${recording.title}`);
  };
  const width = cardWidth(shelves);
  const sliceCount = views.reduce((sum, { slices }) => sum + slices.length, 0);
  useStatus(
    chosen
      ? `Slice ${chosen.entry.number} · ← → barer or less · ↑ ↓ shelves · / the one before · Enter to the next free pad · Space hear`
      : `${shelves.length} shelves of ${sliceCount} slices · click one or press → · Ctrl click chooses several · drag one to a pad`,
  );
  return (
    <>
      <div className="flex h-10 flex-none items-center gap-2 border-b border-line bg-sheet px-4">
        <h1 className="min-w-[64px] max-w-[220px] truncate font-semibold" title={recording.title}>
          {recording.title}
        </h1>
        <span className="figure whitespace-nowrap text-[12px] text-soft">
          {length(recording.frames / recording.sampleRate)} · {sliceCount} slices · {shelves.length} shelves
        </span>
        {heard && heard.unheard > 0 && (
          <span className="text-[12px] text-soft" role="status">
            Listening; {heard.unheard} to go …
          </span>
        )}
        <Together recording={recording} ids={withIds} />
        <span className="ml-auto" />
        <label className="flex items-center gap-1 text-[12px]">
          <input type="checkbox" checked={hovers} onChange={(event) => setHovers(event.target.checked)} />
          Hear under the pointer
        </label>
        <Link className="quiet-button leading-[26px]" href={`/slice/${recording.id}`}>
          Back to the wave
        </Link>
        <button type="button" className="quiet-button" disabled={shelves.length === 0} onClick={layBarest}>
          Barest of each to the pads
        </button>
        <MakeKit
          recording={recording}
          shelves={shelves}
          onOpen={(id) => choose(id, false)}
          onPlay={() => rhythm.playFrom('kit')}
        />
      </div>
      <RhythmBar rhythm={rhythm} rebuilt={rebuilt}>
        {heard?.rhythm && <Time view={view} rhythm={heard.rhythm} chosenFrame={chosen?.entry.slice.startFrame} />}
      </RhythmBar>
      <div className="min-h-0 flex-1 overflow-y-auto bg-sheet" data-testid="shelves">
        {shelves.map((shelf, i) => (
          <ShelfRow
            key={shelf.key}
            several={several}
            cardWidth={width}
            shelf={shelf}
            number={i + 1}
            shelves={shelves}
            chosenId={chosenId}
            selected={selected}
            hovers={hovers}
            onChoose={choose}
            onHover={sound}
            onMerge={merge}
            muted={rhythm.isMuted(shelf)}
            solo={rhythm.isSolo(shelf)}
            onMute={rhythm.mute}
            onSolo={rhythm.solo}
          />
        ))}
        {shelves.length === 0 && (
          <p className="p-6 text-center text-soft">
            {sliceCount === 0
              ? 'There are no slices to listen to. Split the recording first.'
              : recording.analysed
                ? 'Listening to the slices …'
                : recording.unlistened === null
                  ? 'The recording is still being listened to for onsets.'
                  : `It was not listened to: ${recording.unlistened}.`}
          </p>
        )}
      </div>
      <Bench>
        <SliceReport
          mayStandIn={chosen?.entry.recording.id === recording.id}
          chosen={chosen?.entry}
          shelf={chosen?.shelf}
          count={selected.size}
          shelves={shelves}
          onMove={move}
          onPart={part}
          onShow={(id) => choose(id, false)}
          standIn={chosen !== undefined && rhythm.standIn(chosen.shelf) === chosen.entry.slice.id}
          onStandIn={(on) => chosen && rhythm.setStandIn(chosen.shelf, on ? chosen.entry.slice.id : null)}
        />
      </Bench>
    </>
  );
}

const NONE: readonly ShelfOfSlices[] = [];

function counted(n: number): string {
  return n === 1 ? 'a slice' : `${n} slices`;
}

interface Place {
  readonly entry: ShelvedSlice;
  readonly shelf: ShelfOfSlices;
  readonly shelfIndex: number;
  readonly index: number;
}

function placesOf(shelves: readonly ShelfOfSlices[]): ReadonlyMap<string, Place> {
  return new Map(
    shelves.flatMap((shelf, shelfIndex) =>
      shelf.slices.map((entry, index) => [entry.slice.id, { entry, shelf, shelfIndex, index }] as const),
    ),
  );
}
