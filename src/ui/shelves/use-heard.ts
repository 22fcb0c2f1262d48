import { useQueryClient } from '@tanstack/react-query';
import * as Comlink from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { CutView, RecordingView } from '@/contract/views';
import type { HeardSlice, Shelf } from '@/core/describe/hearing';
import type { Family } from '@/core/family';
import { SPLIT_INITIAL } from '@/core/onset/split';
import type { Rhythm } from '@/core/rhythm/rhythm';
import type { HearingAnswer, HearingWorker, RecordingToHear, SliceLevels, SliceToHear } from '@/worker/hearing.worker';
import type { KnownSounds } from '../data/descriptions';
import { keys, useSoundsOf } from '../data/queries';
import { Latest } from '../parts/latest';
import { complain } from '../parts/notice';
import type { StoredSlice } from '../slice/use-marks';
import { withKeys } from './shelf-keys';

/** A slice with its description and its number in the recording. */
export interface ShelvedSlice {
  readonly recording: RecordingView;
  readonly slice: StoredSlice;
  readonly number: number;
  readonly heard: HeardSlice;
  readonly levels: SliceLevels;
  /** The slice whose tail rings on in it; null where there is none. */
  readonly tail: TailOf | null;
}

export interface TailOf {
  readonly id: string;
  readonly number: number;
  readonly family: Family;
}

export interface ShelfOfSlices extends Omit<Shelf, 'members'> {
  /** Survives regrouping with most of its slices, so that its place on the page does. */
  readonly key: string;
  /** Barest first. */
  readonly slices: readonly ShelvedSlice[];
}

export interface HeardSlices {
  readonly shelves: readonly ShelfOfSlices[];
  /** Slices still to be analysed. */
  readonly unheard: number;
  /** Strokes and time of the rhythm; null until slices are described. */
  readonly rhythm: Rhythm | null;
}

const NOTHING: HeardSlices = { shelves: [], unheard: 0, rhythm: null };

/**
 * Slices of recordings grouped on shelves by drum; follows a person's decisions. The rhythm is that of the first
 * recording.
 */
export function useHeard(views: readonly [CutView, ...CutView[]], enabled = true): HeardSlices | null {
  const client = useQueryClient();
  const sounds = useSoundsOf(views, enabled);
  const worker = useRef<{ readonly thread: Comlink.Remote<HearingWorker>; readonly taken: Set<number> } | null>(null);
  const [heard, setHeard] = useState<HeardSlices | null>(null);
  const now = useRef(views);
  now.current = views;
  /** What was grouped last, and how many slices. */
  const shown = useRef({ views, count: 0 });
  const latest = useMemo(
    () => new Latest((error) => complain(`The slices could not be put on shelves: ${error.message}`)),
    [],
  );
  useEffect(() => {
    // Stretches whose edges have moved since are analysed again.
    for (const [i, view] of views.entries()) {
      const data = sounds[i];
      if (!data || data.unheard > 0) continue;
      const figures = byStretch(data);
      if (view.slices.some((s) => !figures.has(stretchKey(s))))
        void client.invalidateQueries({ queryKey: keys.sounds(view.recording.id) });
    }
  }, [views, sounds, client]);
  useEffect(() => {
    if (!enabled) return;
    const thread = new Worker(new URL('../../worker/hearing.worker.ts', import.meta.url));
    worker.current = { thread: Comlink.wrap<HearingWorker>(thread), taken: new Set() };
    return () => {
      thread.terminate();
      worker.current = null;
    };
  }, [enabled]);
  useEffect(() => {
    if (!sounds[0]) return;
    const known = views.flatMap((view, of) => {
      const soundOf = byStretch(sounds[of]);
      return view.slices.flatMap((slice, i) => {
        const sound = soundOf.get(stretchKey(slice));
        return sound ? [{ of, recording: view.recording, slice, number: i + 1, sound }] : [];
      });
    });
    const unheard = views.reduce((sum, view) => sum + view.slices.length, 0) - known.length;
    if (known.length === 0) {
      setHeard({ ...NOTHING, unheard });
      return;
    }
    const wanted = known.map(
      ({ of, slice, sound }): SliceToHear => ({
        of,
        startFrame: slice.startFrame,
        endFrame: slice.endFrame,
        soundId: sound.id,
        family: slice.family as Family | null,
        shelf: slice.shelf,
      }),
    );
    const hearer = worker.current;
    latest.run(async () => {
      if (!hearer) return;
      const { thread, taken } = hearer;
      const unknown = new Map(known.filter(({ sound }) => !taken.has(sound.id)).map(({ sound }) => [sound.id, sound]));
      if (unknown.size > 0) await thread.take([...unknown.values()].map(({ id, figures }) => ({ id, figures })));
      for (const id of unknown.keys()) taken.add(id);
      // While slices arrive, shelves are regrouped whenever twice as many are known: smaller steps would show little.
      const { current } = shown;
      if (unheard > 0 && current.views === views && known.length < 2 * current.count) {
        await thread.compare(wanted.map(({ soundId }) => soundId));
        return;
      }
      shown.current = { views, count: known.length };
      const [first, ...others] = views;
      const answer = await thread.hear(wanted, [toHear(first), ...others.map(toHear)]);
      // More slices may have been analysed meanwhile: the earlier result is shown until they are, too.
      if (now.current !== views) return;
      setHeard((old) => ({
        shelves: withKeys(shelvesOf(answer, known), old?.shelves ?? []),
        unheard,
        rhythm: isOf(old, first) ? old.rhythm : null,
      }));
      // Shelves do not wait for the rhythm.
      if (unheard > 0) return;
      const rhythm = await thread.rhythm();
      if (now.current === views) setHeard((old) => old && { ...old, rhythm });
    });
  }, [views, sounds, latest]);
  // An earlier result says nothing about slices that are gone.
  return enabled ? heard : null;
}

/** Whether an earlier result includes a recording. */
function isOf(heard: HeardSlices | null, { recording: { id } }: CutView): heard is HeardSlices {
  return heard?.shelves.some(({ slices }) => slices.some(({ recording }) => recording.id === id)) ?? false;
}

function toHear({
  recording: { sampleRate, frames, tempoBpm: writtenBpm },
  cut,
  candidates,
}: CutView): RecordingToHear {
  const { tempoBpm, downbeatFrame, beats, beatUnit } = cut ?? SPLIT_INITIAL;
  return { sampleRate, frames, candidates, said: { tempoBpm, downbeatFrame, beats, beatUnit, writtenBpm } };
}

function shelvesOf(
  { shelves, slices: heard, levels }: HearingAnswer,
  known: readonly Pick<ShelvedSlice, 'recording' | 'slice' | 'number'>[],
): Omit<ShelfOfSlices, 'key'>[] {
  const tailAt = (i: number | null): TailOf | null => {
    const of = i === null ? undefined : known[i];
    return of ? { id: of.slice.id, number: of.number, family: (heard[i as number] as HeardSlice).family } : null;
  };
  return shelves.map(({ members, ...shelf }) => {
    const slices = members.map((i): ShelvedSlice => {
      const { recording, slice, number } = known[i] as (typeof known)[number];
      const own = heard[i] as HeardSlice;
      return { recording, slice, number, heard: own, levels: levels[i] as SliceLevels, tail: tailAt(own.tailOf) };
    });
    return { ...shelf, slices };
  });
}

function stretchKey({ startFrame, endFrame }: { startFrame: number; endFrame: number }): string {
  return `${startFrame} ${endFrame}`;
}

function byStretch(data: KnownSounds | undefined): ReadonlyMap<string, KnownSounds['sounds'][number]> {
  return new Map((data?.sounds ?? []).map((sound) => [stretchKey(sound), sound]));
}

/** Descriptions of slices by their ids. */
export function bySlice(heard: HeardSlices | null): ReadonlyMap<string, ShelvedSlice> {
  return new Map((heard?.shelves ?? []).flatMap(({ slices }) => slices.map((entry) => [entry.slice.id, entry])));
}
