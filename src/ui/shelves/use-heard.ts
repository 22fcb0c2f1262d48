import { useQueryClient } from '@tanstack/react-query';
import * as Comlink from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CutView, RecordingView, SoundsView } from '@/contract/views';
import type { HeardSlice, Shelf } from '@/core/describe/hearing';
import type { Family } from '@/core/hit/model';
import { DEFAULT_SPLIT } from '@/core/onset/split';
import type { Rhythm } from '@/core/rhythm/rhythm';
import type { Heard, HearingWorker, RecordingToHear, SliceLevels, SliceToHear } from '@/worker/hearing.worker';
import { keys, useSoundsOf } from '../data/queries';
import { Latest } from '../parts/latest';
import type { StoredSlice } from '../slice/use-marks';

/** A slice with what it is heard as, and its number in the recording. */
export interface ShelvedSlice {
  readonly recording: RecordingView;
  readonly slice: StoredSlice;
  readonly number: number;
  readonly heard: HeardSlice;
  readonly levels: SliceLevels;
}

export interface ShelfOfSlices extends Omit<Shelf, 'members'> {
  /** The id of its barest slice when it was made; keeps its place while it is worked on. */
  readonly key: string;
  /** Barest first. */
  readonly slices: readonly ShelvedSlice[];
}

export interface HeardSlices {
  readonly shelves: readonly ShelfOfSlices[];
  /** Slices that are still to be listened to. */
  readonly unheard: number;
  /** What was struck when, and the time it stands in; null until slices are heard. */
  readonly rhythm: Rhythm | null;
}

const NOTHING: HeardSlices = { shelves: [], unheard: 0, rhythm: null };

/** What the slices of recordings are heard as, together on shelves; it follows what a person says of them. The rhythm is the first one's. */
export function useHeard(views: readonly [CutView, ...CutView[]], enabled = true): HeardSlices | null {
  const client = useQueryClient();
  const sounds = useSoundsOf(views, enabled);
  const worker = useRef<Comlink.Remote<HearingWorker> | null>(null);
  const [heard, setHeard] = useState<HeardSlices | null>(null);
  const now = useRef(views);
  now.current = views;
  const latest = useMemo(
    () => new Latest((error) => toast.error(`The slices could not be put on shelves: ${error.message}`)),
    [],
  );
  useEffect(() => {
    // Edges that have moved since have their new stretches listened to.
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
    worker.current = Comlink.wrap<HearingWorker>(thread);
    return () => {
      thread.terminate();
      worker.current = null;
    };
  }, [enabled]);
  useEffect(() => {
    if (!sounds[0]) return;
    const known = views.flatMap((view, of) => {
      const figures = byStretch(sounds[of]);
      return view.slices.flatMap((slice, i) => {
        const found = figures.get(stretchKey(slice));
        return found ? [{ of, recording: view.recording, slice, number: i + 1, figures: found }] : [];
      });
    });
    const unheard = views.reduce((sum, view) => sum + view.slices.length, 0) - known.length;
    if (known.length === 0) {
      setHeard({ ...NOTHING, unheard });
      return;
    }
    const wanted = known.map(
      ({ of, slice, figures }): SliceToHear => ({
        of,
        startFrame: slice.startFrame,
        endFrame: slice.endFrame,
        figures,
        family: slice.family as Family | null,
        shelf: slice.shelf,
      }),
    );
    const thread = worker.current;
    latest.run(async () => {
      if (!thread) return;
      const [first, ...others] = views;
      const answer = await thread.hear(wanted, [toHear(first), ...others.map(toHear)], unheard === 0);
      // More slices may have been listened to meanwhile: what these are heard as is shown until those are, too.
      if (now.current === views) setHeard({ shelves: shelvesOf(answer, known), unheard, rhythm: answer.rhythm });
    });
  }, [views, sounds, latest]);
  // What was heard before says nothing of slices that are no longer listened to.
  return enabled ? heard : null;
}

function toHear({
  recording: { sampleRate, frames, tempoBpm: writtenBpm },
  cut,
  candidates,
}: CutView): RecordingToHear {
  const { tempoBpm, downbeatFrame, beats, beatUnit } = cut ?? DEFAULT_SPLIT;
  return { sampleRate, frames, candidates, said: { tempoBpm, downbeatFrame, beats, beatUnit, writtenBpm } };
}

function shelvesOf(
  { shelves, slices: heard, levels }: Heard,
  known: readonly Pick<ShelvedSlice, 'recording' | 'slice' | 'number'>[],
): ShelfOfSlices[] {
  return shelves.map(({ members, ...shelf }) => {
    const slices = members.map((i): ShelvedSlice => {
      const { recording, slice, number } = known[i] as (typeof known)[number];
      return { recording, slice, number, heard: heard[i] as HeardSlice, levels: levels[i] as SliceLevels };
    });
    return { ...shelf, key: slices[0]?.slice.id ?? '', slices };
  });
}

function stretchKey({ startFrame, endFrame }: { startFrame: number; endFrame: number }): string {
  return `${startFrame} ${endFrame}`;
}

function byStretch(data: SoundsView | undefined): ReadonlyMap<string, string> {
  return new Map((data?.sounds ?? []).map((s) => [stretchKey(s), s.figures]));
}

/** What is heard in each slice, by its id. */
export function bySlice(heard: HeardSlices | null): ReadonlyMap<string, ShelvedSlice> {
  return new Map((heard?.shelves ?? []).flatMap(({ slices }) => slices.map((entry) => [entry.slice.id, entry])));
}
