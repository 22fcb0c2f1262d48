import type { LinedUp } from '@/worker/layers';
import { decibels, minus } from '../parts/figures';

/** What was moved and turned, and what the lows lost before and lose now. */
export function toldLinedUp(
  before: readonly { readonly name: string; readonly inverted: boolean }[],
  { layers, lostDb, stillLostDb }: LinedUp,
): string {
  const moved = before.flatMap(({ name, inverted }, i) => {
    const to = layers[i];
    if (!to) return [];
    return [
      ...(to.movedFrames === 0 ? [] : [`${name} by ${minus(String(to.movedFrames))} samples`]),
      ...(to.inverted === inverted ? [] : [`${name} turned`]),
    ];
  });
  const lows =
    lostDb < 0.5
      ? ''
      : ` Under 200 Hz they lost ${decibels(lostDb)}; now ${stillLostDb < 0.5 ? 'nothing' : decibels(stillLostDb)}.`;
  return moved.length === 0 ? `They lie together already.${lows}` : `Moved ${moved.join(', ')}.${lows}`;
}
