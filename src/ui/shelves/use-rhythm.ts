import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { RecordingView } from '@/contract/views';
import type { Region } from '@/core/onset/split';
import { openSound, soundNow } from '../sound/sound';
import type { ShelfOfSlices } from './use-heard';

/** A recording's own rhythm, played from its slices. */
export interface Playing {
  readonly playing: boolean;
  readonly toggle: () => void;
  /** Whether the source is heard instead, from the next stroke on. */
  readonly source: boolean;
  readonly setSource: (source: boolean) => void;
  readonly isMuted: (shelf: ShelfOfSlices) => boolean;
  readonly isSolo: (shelf: ShelfOfSlices) => boolean;
  readonly mute: (shelf: ShelfOfSlices) => void;
  readonly solo: (shelf: ShelfOfSlices) => void;
  /** The slice that is played for every stroke of a shelf; undefined where each plays its own. */
  readonly standIn: (shelf: ShelfOfSlices) => string | undefined;
  readonly setStandIn: (shelf: ShelfOfSlices, sliceId: string | null) => void;
}

/** Longer recordings are not brought into sample memory whole. */
const LONGEST_S = 60;

interface Stroke {
  readonly at: number;
  readonly own: Region;
  readonly shelf: ShelfOfSlices;
}

/** What was struck when in a recording, from all shelves in the order of time. */
function strokesOf(recordingId: string, shelves: readonly ShelfOfSlices[]): Stroke[] {
  return shelves
    .flatMap((shelf) =>
      shelf.slices
        .filter(({ recording }) => recording.id === recordingId)
        .map(({ slice }) => ({ at: slice.startFrame, own: slice, shelf })),
    )
    .sort((a, b) => a.at - b.at);
}

export function useRhythm(recording: RecordingView, shelves: readonly ShelfOfSlices[]): Playing {
  const [playing, setPlaying] = useState(false);
  const [source, setSource] = useState(false);
  const [muted, setMuted] = useState<ReadonlySet<string>>(new Set());
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [standIns, setStandIns] = useState<ReadonlyMap<string, string>>(new Map());
  const strokes = useMemo(() => strokesOf(recording.id, shelves), [recording.id, shelves]);
  // What is played is asked for stroke by stroke, so that every change is heard at the next one.
  const now = useRef({ source, muted, soloed, standIns });
  now.current = { source, muted, soloed, standIns };

  const play = useCallback(async () => {
    const sound = soundNow() ?? (await openSound());
    setPlaying(true);
    try {
      await sound.playRhythm(
        recording,
        strokes.map(({ at }) => at),
        (i) => regionOf(strokes, i, recording.frames, now.current),
      );
    } finally {
      setPlaying(false);
    }
  }, [recording, strokes]);
  useEffect(() => () => soundNow()?.stopAudition(), []);

  const toggle = () => {
    if (playing) soundNow()?.stopAudition();
    else if (recording.frames > LONGEST_S * recording.sampleRate)
      toast(`Only recordings of up to ${LONGEST_S} s are played by their own rhythm.`);
    else play().catch((error: Error) => toast.error(error.message));
  };
  const flip = (set: ReadonlySet<string>, key: string) => {
    const next = new Set(set);
    if (!next.delete(key)) next.add(key);
    return next;
  };
  return {
    playing,
    toggle,
    source,
    setSource,
    isMuted: (shelf) => muted.has(shelf.key),
    isSolo: (shelf) => soloed.has(shelf.key),
    mute: (shelf) => setMuted((old) => flip(old, shelf.key)),
    solo: (shelf) => setSoloed((old) => flip(old, shelf.key)),
    standIn: (shelf) => standIns.get(shelf.key),
    setStandIn: (shelf, sliceId) =>
      setStandIns((old) => {
        const next = new Map(old);
        if (sliceId === null) next.delete(shelf.key);
        else next.set(shelf.key, sliceId);
        return next;
      }),
  };
}

/** What is played for a stroke: the source as far as the next one, its own slice, another of its shelf, or nothing. */
function regionOf(
  strokes: readonly Stroke[],
  i: number,
  frames: number,
  {
    source,
    muted,
    soloed,
    standIns,
  }: {
    source: boolean;
    muted: ReadonlySet<string>;
    soloed: ReadonlySet<string>;
    standIns: ReadonlyMap<string, string>;
  },
): Region | null {
  const stroke = strokes[i];
  if (!stroke) return null;
  const { own, shelf } = stroke;
  if (source) return { startFrame: own.startFrame, endFrame: strokes[i + 1]?.at ?? frames };
  if (muted.has(shelf.key) || (soloed.size > 0 && !soloed.has(shelf.key))) return null;
  const standIn = standIns.get(shelf.key);
  const other = shelf.slices.find(({ slice }) => slice.id === standIn)?.slice;
  return other ?? own;
}
