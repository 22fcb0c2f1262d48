import { useQueryClient } from '@tanstack/react-query';
import * as Comlink from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CutView, SoundsView } from '@/contract/views';
import type { HeardSlice, Shelf } from '@/core/describe/hearing';
import type { Family } from '@/core/hit/model';
import type { Heard, HearingWorker, Rebuilding, SliceLevels, SliceToHear } from '@/worker/hearing.worker';
import { keys, useSounds } from '../data/queries';
import { Latest } from '../parts/latest';
import type { StoredSlice } from '../slice/use-marks';

/** A slice with what it is heard as, and its number in the recording. */
export interface ShelvedSlice {
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
  /** How slices played by their own starts differ from the source; null until it is known, or where it is too long. */
  readonly rebuilt: Rebuilding | null;
  readonly shelves: readonly ShelfOfSlices[];
  /** Slices that are still to be listened to. */
  readonly unheard: number;
}

const NOTHING: HeardSlices = { shelves: [], unheard: 0, rebuilt: null };
/** Longer recordings are not rebuilt to be compared. */
const LONGEST_S = 60;

/** What a recording's slices are heard as, on shelves; it follows what a person says of them. */
export function useHeard({ recording, slices, candidates }: CutView): HeardSlices | null {
  const client = useQueryClient();
  const { data } = useSounds(recording.id, recording.analysed);
  const worker = useRef<Comlink.Remote<HearingWorker> | null>(null);
  const [heard, setHeard] = useState<Omit<HeardSlices, 'rebuilt'> | null>(null);
  const [rebuilt, setRebuilt] = useState<Rebuilding | null>(null);
  const latest = useMemo(
    () => new Latest((error) => toast.error(`The slices could not be put on shelves: ${error.message}`)),
    [],
  );
  const figures = useMemo(() => byStretch(data), [data]);
  const missing = data !== undefined && slices.some((s) => !figures.has(stretchKey(s)));
  useEffect(() => {
    // Edges that have moved since have their new stretches listened to.
    if (missing && data?.unheard === 0) void client.invalidateQueries({ queryKey: keys.sounds(recording.id) });
  }, [missing, data, client, recording.id]);
  useEffect(() => {
    const thread = new Worker(new URL('../../worker/hearing.worker.ts', import.meta.url));
    worker.current = Comlink.wrap<HearingWorker>(thread);
    return () => {
      thread.terminate();
      worker.current = null;
    };
  }, []);
  useEffect(() => {
    if (!data) return;
    let late = false;
    const known = slices.flatMap((slice, i) => {
      const found = figures.get(stretchKey(slice));
      return found ? [{ slice, number: i + 1, figures: found }] : [];
    });
    if (known.length === 0) {
      setHeard({ ...NOTHING, unheard: slices.length });
      return;
    }
    const wanted = known.map(
      ({ slice, figures: found }): SliceToHear => ({
        startFrame: slice.startFrame,
        endFrame: slice.endFrame,
        figures: found,
        family: slice.family as Family | null,
        shelf: slice.shelf,
      }),
    );
    const thread = worker.current;
    latest.run(async () => {
      if (late || !thread) return;
      const answer = await thread.hear(wanted, candidates, recording.sampleRate);
      if (!late) setHeard({ shelves: shelvesOf(answer, known), unheard: slices.length - known.length });
    });
    return () => {
      late = true;
    };
  }, [data, figures, slices, candidates, recording.sampleRate, latest]);
  useEffect(() => {
    setRebuilt(null);
    const { id, encoding, channelCount, sampleRate, frames } = recording;
    if (slices.length === 0 || frames > LONGEST_S * sampleRate) return;
    let late = false;
    const regions = slices.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
    worker.current
      ?.rebuild({ id, encoding, channelCount, sampleRate, frames }, regions)
      .then((answer) => {
        if (!late) setRebuilt(answer);
      })
      .catch((error: Error) => toast.error(error.message));
    return () => {
      late = true;
    };
  }, [recording, slices]);
  return useMemo(() => heard && { ...heard, rebuilt }, [heard, rebuilt]);
}

function shelvesOf(
  { shelves, slices: heard, levels }: Heard,
  known: readonly { readonly slice: StoredSlice; readonly number: number }[],
): ShelfOfSlices[] {
  return shelves.map(({ members, ...shelf }) => {
    const slices = members.map((i): ShelvedSlice => {
      const { slice, number } = known[i] as (typeof known)[number];
      return { slice, number, heard: heard[i] as HeardSlice, levels: levels[i] as SliceLevels };
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
