/** How tall a stroke of a velocity is drawn, as a share of the height: soft ones are seen as well. */
export function velocityShare(velocity: number): number {
  return 0.15 + (0.85 * velocity) / 127;
}
