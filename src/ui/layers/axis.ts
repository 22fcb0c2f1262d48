import type { HitView } from '@/contract/views';
import type { LaneSounds } from './use-lanes';

/** The axis that all lanes lie on, in frames of the sum's rate. */
export interface Axis {
  /** Its first frame, where layers with offset 0 have theirs at 0. */
  readonly start: number;
  readonly frames: number;
}

/** Room before the first layer, in seconds. */
const BEFORE_S = 0.02;
/** Seen at first, before and after the attack, in seconds. */
const SEEN_S = [0.005, 0.04] as const;

export function axisOf({ members }: HitView, { lanes, sampleRate }: LaneSounds): Axis {
  const start = Math.min(...members.map((m) => m.offsetFrames)) - Math.round(BEFORE_S * sampleRate);
  const end = Math.max(...members.map((m) => m.offsetFrames + (lanes.get(m.id)?.samples.length ?? 0)));
  return { start, frames: Math.max(1, end - start) };
}

/** Where the first layer's attack lies: it is told as 0 ms. */
export function attackOf({ members: [first] }: HitView, { lanes }: LaneSounds): number {
  return first ? first.offsetFrames + (lanes.get(first.id)?.attackFrame ?? 0) : 0;
}

/** The stretch around an attack that is shown at first, in frames from the axis's start. */
export function aroundAttack(
  { start }: Axis,
  attack: number,
  sampleRate: number,
): { readonly from: number; readonly to: number } {
  const at = attack - start;
  return { from: at - SEEN_S[0] * sampleRate, to: at + SEEN_S[1] * sampleRate };
}
