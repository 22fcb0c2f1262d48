/** What applies to all pads of a kit. */
export interface KitSound {
  /** Seed of all its chances. */
  readonly seed: number;
  /** Velocity of every stroke, or 0 for each its own. */
  readonly evenVelocity: number;
  /** Exponent of a stroke's velocity over 127: over 1 soft strokes become softer. */
  readonly velocityExponent: number;
}

/** A stroke's velocity as the kit has it: whole, so that it falls into a layer's range. */
export function velocityIn({ evenVelocity, velocityExponent }: KitSound, wanted: number): number {
  if (evenVelocity > 0) return evenVelocity;
  if (velocityExponent === 1) return wanted;
  const share = Math.max(0, Math.min(127, wanted)) / 127;
  return Math.max(1, Math.round(127 * share ** velocityExponent));
}
