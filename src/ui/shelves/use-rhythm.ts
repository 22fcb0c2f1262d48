import { useEffect, useMemo, useState } from 'react';
import type { KitView, RecordingView } from '@/contract/views';
import type { Region } from '@/core/onset/split';
import { velocityUnder } from '@/core/play/gains';
import { useKitDesk } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import type { RhythmStroke } from '../sound/audition';
import { openSound, soundNow } from '../sound/open-sound';
import type { ShelfOfSlices } from './use-heard';

/** What a recording's own rhythm is played from. */
export type From = 'slices' | 'kit' | 'source';

/** A recording's own rhythm, played from its slices. */
export interface Playing {
  readonly playing: boolean;
  readonly toggle: () => void;
  /** What sounds from the next stroke on: the slices, the kit's pads, or the source. */
  readonly from: From;
  readonly setFrom: (from: From) => void;
  /** Starts playing from a source, or switches to it. */
  readonly playFrom: (from: From) => void;
  readonly isMuted: (shelf: ShelfOfSlices) => boolean;
  readonly isSolo: (shelf: ShelfOfSlices) => boolean;
  readonly mute: (shelf: ShelfOfSlices) => void;
  readonly solo: (shelf: ShelfOfSlices) => void;
  /** The slice played for every stroke of a shelf; undefined where each plays its own. */
  readonly standIn: (shelf: ShelfOfSlices) => string | undefined;
  readonly setStandIn: (shelf: ShelfOfSlices, sliceId: string | null) => void;
}

/** Longer recordings, in seconds, are not loaded into sample memory whole. */
const LONGEST_S = 60;

interface Stroke {
  readonly at: number;
  readonly own: Region;
  readonly shelf: ShelfOfSlices;
  readonly peakDb: number;
}

/** The strokes of a recording, from all shelves in order of time. */
function strokesOf(recordingId: string, shelves: readonly ShelfOfSlices[]): Stroke[] {
  return shelves
    .flatMap((shelf) =>
      shelf.slices
        .filter(({ recording }) => recording.id === recordingId)
        .map(({ slice, levels }) => ({ at: slice.startFrame, own: slice, shelf, peakDb: levels.peakDb })),
    )
    .sort((a, b) => a.at - b.at);
}

const NONE: ReadonlySet<string> = new Set();

/** Mute, solo and stand-in by the slices that were on a shelf then, so that they survive regrouping. */
interface ShelfChoices {
  readonly muted: ReadonlySet<string>;
  readonly soloed: ReadonlySet<string>;
  readonly standIns: ReadonlySet<string>;
}

/** Whether a set holds most of a shelf's slices. */
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
  const [from, setFrom] = useState<From>('slices');
  const { view: kit } = useKitDesk();
  const pads = useMemo(() => padsOf(kit, shelves), [kit, shelves]);
  const [muted, setMuted] = useState<ReadonlySet<string>>(new Set());
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [standIns, setStandIns] = useState<ReadonlySet<string>>(new Set());
  const strokes = useMemo(() => strokesOf(recording.id, shelves), [recording.id, shelves]);
  const anySolo = shelves.some((shelf) => isOf(shelf, soloed));
  const score = useMemo(
    () => scoreOf(strokes, recording.frames, { from, pads, muted, soloed: anySolo ? soloed : NONE, standIns }),
    [strokes, recording.frames, from, pads, muted, soloed, anySolo, standIns],
  );
  useEffect(() => {
    if (!playing) return;
    const audition = soundNow()?.audition;
    return audition?.nowPlaying.subscribe(() => !audition.playsRhythm && setPlaying(false));
  }, [playing]);
  // Changes are heard from the next stroke on.
  useEffect(() => {
    if (playing) soundNow()?.audition.changeRhythm(score);
  }, [playing, score]);

  const play = async () => {
    const sound = soundNow() ?? (await openSound());
    await sound.audition.playRhythm(recording, score);
    setPlaying(sound.audition.playsRhythm);
  };
  useEffect(() => () => soundNow()?.audition.stop(), []);

  const toggle = () => {
    if (playing) soundNow()?.audition.stop();
    else if (recording.frames > LONGEST_S * recording.sampleRate)
      tell(`Only recordings of up to ${LONGEST_S} s are played by their own rhythm.`);
    else play().catch((error: Error) => complain(error.message));
  };
  return {
    playing,
    toggle,
    from,
    setFrom,
    playFrom: (wanted) => {
      setFrom(wanted);
      if (!playing) toggle();
    },
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

/**
 * The kit's pad for each shelf: one that plays a slice of it, else one of its family. With the peak of the pad's own
 * slice.
 */
function padsOf(kit: KitView | null, shelves: readonly ShelfOfSlices[]): ReadonlyMap<string, KitPad> {
  const found = new Map<string, KitPad>();
  if (!kit) return found;
  const padOf = new Map(kit.layers.map((layer) => [layer.hitId, kit.pads.find((pad) => pad.id === layer.padId)]));
  const bySlice = new Map(kit.hits.map((hit) => [hit.sliceId, padOf.get(hit.id)]));
  for (const shelf of shelves) {
    const entry = shelf.slices.find(({ slice }) => bySlice.get(slice.id));
    const pad = entry ? bySlice.get(entry.slice.id) : kit.pads.find((p) => p.family === shelf.family);
    if (!pad) continue;
    const { position, velocityDb } = pad;
    found.set(shelf.key, { pad: position, velocityDb, peakDb: (entry ?? shelf.slices[0])?.levels.peakDb ?? 0 });
  }
  return found;
}

interface KitPad {
  readonly pad: number;
  readonly velocityDb: number;
  readonly peakDb: number;
}

/** The velocity at which a pad matches another peak level, by its own range of level. */
function velocityFor(peakDb: number, of: KitPad): number {
  return Math.round(velocityUnder(Math.max(0, of.peakDb - peakDb), of.velocityDb));
}

type Choices = ShelfChoices & Pick<Playing, 'from'> & { readonly pads: ReadonlyMap<string, KitPad> };

/** What each stroke that sounds plays. */
function scoreOf(strokes: readonly Stroke[], frames: number, choices: Choices): RhythmStroke[] {
  return strokes.flatMap((stroke, i) => {
    const sounding = soundingAt(stroke, strokes[i + 1]?.at ?? frames, choices);
    return sounding ? [{ at: stroke.at, ...sounding }] : [];
  });
}

/**
 * What one stroke plays: the source up to the next stroke, the kit's pad of its shelf, its own slice, another of its
 * shelf, or nothing.
 */
function soundingAt({ own, shelf, peakDb }: Stroke, nextAt: number, choices: Choices) {
  const { from, pads, muted, soloed, standIns } = choices;
  if (from === 'source') return { startFrame: own.startFrame, endFrame: nextAt };
  if (isOf(shelf, muted) || (soloed.size > 0 && !isOf(shelf, soloed))) return null;
  if (from === 'kit') {
    const pad = pads.get(shelf.key);
    return pad ? { pad: pad.pad, velocity: velocityFor(peakDb, pad) } : null;
  }
  const { startFrame, endFrame } = standInOf(shelf, standIns) ?? own;
  return { startFrame, endFrame };
}
