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

const NONE: ReadonlySet<string> = new Set();

/** What was said of shelves, by the slices that stood there then, so that it stays with them however they are grouped since. */
interface Said {
  readonly muted: ReadonlySet<string>;
  readonly soloed: ReadonlySet<string>;
  readonly standIns: ReadonlySet<string>;
}

/** Whether something was said of most of a shelf's slices. */
function isOf(shelf: ShelfOfSlices, said: ReadonlySet<string>): boolean {
  return shelf.slices.filter(({ slice }) => said.has(slice.id)).length > shelf.slices.length / 2;
}

function without(said: ReadonlySet<string>, shelf: ShelfOfSlices): Set<string> {
  const gone = new Set(shelf.slices.map(({ slice }) => slice.id));
  return new Set([...said].filter((id) => !gone.has(id)));
}

function flipped(said: ReadonlySet<string>, shelf: ShelfOfSlices): Set<string> {
  const others = without(said, shelf);
  if (!isOf(shelf, said)) for (const { slice } of shelf.slices) others.add(slice.id);
  return others;
}

export function useRhythm(recording: RecordingView, shelves: readonly ShelfOfSlices[]): Playing {
  const [playing, setPlaying] = useState(false);
  const [source, setSource] = useState(false);
  const [muted, setMuted] = useState<ReadonlySet<string>>(new Set());
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [standIns, setStandIns] = useState<ReadonlySet<string>>(new Set());
  const strokes = useMemo(() => strokesOf(recording.id, shelves), [recording.id, shelves]);
  // What is played is asked for stroke by stroke, so that every change is heard at the next one.
  const anySolo = shelves.some((shelf) => isOf(shelf, soloed));
  const said = { source, muted, soloed: anySolo ? soloed : NONE, standIns };
  const now = useRef(said);
  now.current = said;

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
  return {
    playing,
    toggle,
    source,
    setSource,
    isMuted: (shelf) => isOf(shelf, muted),
    isSolo: (shelf) => isOf(shelf, soloed),
    mute: (shelf) => setMuted((old) => flipped(old, shelf)),
    solo: (shelf) => setSoloed((old) => flipped(old, shelf)),
    standIn: (shelf) => standInOf(shelf, standIns)?.id,
    setStandIn: (shelf, sliceId) =>
      setStandIns((old) => new Set([...without(old, shelf), ...(sliceId === null ? [] : [sliceId])])),
  };
}

function standInOf(shelf: ShelfOfSlices, standIns: ReadonlySet<string>) {
  return shelf.slices.find(({ slice }) => standIns.has(slice.id))?.slice;
}

/** What is played for a stroke: the source as far as the next one, its own slice, another of its shelf, or nothing. */
function regionOf(
  strokes: readonly Stroke[],
  i: number,
  frames: number,
  { source, muted, soloed, standIns }: Said & { readonly source: boolean },
): Region | null {
  const stroke = strokes[i];
  if (!stroke) return null;
  const { own, shelf } = stroke;
  if (source) return { startFrame: own.startFrame, endFrame: strokes[i + 1]?.at ?? frames };
  if (isOf(shelf, muted) || (soloed.size > 0 && !isOf(shelf, soloed))) return null;
  return standInOf(shelf, standIns) ?? own;
}
