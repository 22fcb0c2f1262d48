/** What the engine needs to know to strike a pad; all levels linear, all times in frames of the engine's rate. */
export interface PadSound {
  /** Linear gain of the pad to each side: level, normalising and pan together. */
  readonly gainLeft: number;
  readonly gainRight: number;
  /** A held pad stops on release; a one-shot sounds to its end. */
  readonly held: boolean;
  /** 0 for none; pads of the same group silence each other, and themselves. */
  readonly chokeGroup: number;
  /** Fade before the end of each layer, in engine frames; 0 for a sharp end. */
  readonly fadeOutFrames: number;
  readonly layers: readonly LayerSound[];
}

/** One layer: a stretch of sample memory read at a rate. Offsets count floats in the memory, positions frames. */
export interface LayerSound {
  readonly left: number;
  readonly right: number;
  readonly start: number;
  readonly end: number;
  /** Source frames a engine frame: source rate / engine rate * pitch. Exactly 1 is a plain copy. */
  readonly ratio: number;
  readonly gain: number;
  /** Engine frames from the strike to this layer's start. */
  readonly delay: number;
}

export const MAX_LAYERS = 8;
/** Pads 0 to 31 are the kit's; the rest are for auditioning. */
export const MAX_PADS = 64;

/**
 * Equal-power pan scaled to unity in the centre: cos and sin of the pan angle times the square root of two. `pan` runs
 * from -1 (left) to 1 (right); the centre is exactly 1 on both sides, so that an untouched pad is bit-exact.
 */
export function panGains(pan: number): { left: number; right: number } {
  if (pan === 0) return { left: 1, right: 1 };
  const angle = ((pan + 1) * Math.PI) / 4;
  return {
    left: pan >= 1 ? 0 : Math.SQRT2 * Math.cos(angle),
    right: pan <= -1 ? 0 : Math.SQRT2 * Math.sin(angle),
  };
}

/** Gain of a strike of 0..127: its square, as the SFZ format's default velocity curve has it; exactly 1 at 127. */
export function velocityGain(velocity: number): number {
  return (Math.max(0, Math.min(127, velocity)) / 127) ** 2;
}
