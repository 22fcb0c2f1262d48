import { type NumberParameter, number } from '../parameter/parameter';
import { processor } from './processor';

/** Recordings have as many channels at most. */
const MOST_CHANNELS = 8;
/** Largest offset that is removed, full scale at 1: a larger one is no sound. */
export const MOST_DC = 1000;

type OffsetName = `offset${1 | 2 | 3 | 4 | 5 | 6 | 7 | 8}`;

/** Names of the offsets, by channel. */
export const OFFSETS = Array.from({ length: MOST_CHANNELS }, (_, c) => `offset${c + 1}` as OffsetName);

const parameters = Object.fromEntries(
  OFFSETS.map((name, c) => [
    name,
    number({
      label: `Offset of channel ${c + 1}`,
      unit: '',
      low: -MOST_DC,
      high: MOST_DC,
      step: 0.001,
      digits: 5,
      initial: 0,
      bipolar: true,
    }),
  ]),
) as Record<OffsetName, NumberParameter>;

/** Removes a constant from each channel: the offset of a cheap converter, which clicks at every cut. */
export const dc = processor({
  label: 'Offset removed',
  help: 'removes the constant offset of a cheap converter, which clicks at every cut',
  version: 1,
  parameters,
});

/**
 * The offsets of channels as the values of a step; offsets under a step of 16 bits, or beyond the limit, count as none.
 */
export function offsetValues(means: readonly number[]): Partial<Record<OffsetName, number>> | null {
  const largest = Math.max(0, ...means.map(Math.abs));
  if (!(largest > 1 / 32768 && largest <= MOST_DC)) return null;
  return Object.fromEntries(
    means.slice(0, MOST_CHANNELS).flatMap((mean, c) => (mean === 0 ? [] : [[OFFSETS[c], mean]])),
  );
}
