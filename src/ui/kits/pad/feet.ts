import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { clip } from '@/core/parameter/values';
import { pitchRatio } from '@/core/signal/units';

/** What is dragged along a pad's sample. */
export type Foot = 'startMs' | 'endMs' | 'loopStartMs' | 'loopEndMs';

export interface Feet {
  /** Start and end of what is played, in ms of the played time. */
  readonly start: number;
  readonly end: number;
  readonly handles: readonly { readonly foot: Foot; readonly ms: number }[];
}

/**
 * Where the feet of a pad stand in a sound of `playedMs`. What is stored counts ms of the sample at its own rate; the
 * picture shows it as it is played.
 */
export function feetOf(pad: Pad, playedMs: number): Feet {
  const ratio = pitchRatio(pad.semitones, pad.cents);
  const start = Math.min(playedMs, pad.startMs / ratio);
  const end = Math.max(start, playedMs - pad.endMs / ratio);
  const loops = pad.mode === 'looped' || pad.mode === 'switched';
  const loop = loops
    ? ([
        { foot: 'loopStartMs', ms: Math.min(end, start + (pad.loopStartMs ?? 0) / ratio) },
        { foot: 'loopEndMs', ms: pad.loopEndMs === null ? end : Math.min(end, start + pad.loopEndMs / ratio) },
      ] as const)
    : [];
  return { start, end, handles: [{ foot: 'startMs', ms: start }, { foot: 'endMs', ms: end }, ...loop] };
}

/** What a foot dragged to a moment of the played time sets. */
export function footDragged(pad: Pad, playedMs: number, foot: Foot, ms: number): Partial<Pad> {
  const ratio = pitchRatio(pad.semitones, pad.cents);
  const { start, end } = feetOf(pad, playedMs);
  const set = (value: number) => ({ [foot]: clip(PAD_PARAMETERS[foot], value * ratio, 0.1) });
  switch (foot) {
    case 'startMs':
      return set(Math.max(0, Math.min(ms, end - 1)));
    case 'endMs':
      return set(playedMs - Math.min(playedMs, Math.max(ms, start + 1)));
    default:
      return set(Math.max(0, Math.min(ms, end) - start));
  }
}
