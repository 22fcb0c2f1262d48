import { choice, number, optional, type Values } from '../parameter/parameter';

/** How a take begins and ends, and what of the input goes into it. */
export const CAPTURE_PARAMETERS = {
  begin: choice(
    'Begins',
    [
      ['now', 'at once'],
      ['count', 'after a count-in'],
      ['loud', 'when it gets loud'],
    ],
    'now',
  ),
  countBeats: number({ label: 'Count-in', unit: 'beats', low: 1, high: 16, step: 1, whole: true, initial: 4 }),
  /** Sample level that starts a take; null derives it from the room tone. */
  loudDb: optional({
    label: 'Loud is over',
    unit: 'dBFS',
    low: -80,
    high: -3,
    step: 1,
    none: { label: 'by room tone', first: -40 },
  }),
  beforeS: number({ label: 'Kept before', unit: 's', low: 0, high: 5, step: 0.1, initial: 1 }),
  stopAfterS: optional({
    label: 'Ends after',
    unit: 's quiet',
    low: 0.5,
    high: 60,
    step: 0.5,
    none: { label: 'only by hand', first: 4 },
  }),
  channels: choice(
    'Channels',
    [
      ['all', 'all'],
      ['left', 'the left one'],
      ['right', 'the right one'],
      ['sum', 'their sum, as one'],
    ],
    'all',
  ),
};

export type CaptureSettings = Values<typeof CAPTURE_PARAMETERS>;

/** The channels of the input that go into a take: those of `block` itself, or their sum at half the level each. */
export function takenChannels(block: readonly Float32Array[], wanted: CaptureSettings['channels']): Float32Array[] {
  const [left, right] = block;
  if (!left || !right) return [...block];
  switch (wanted) {
    case 'all':
      return [...block];
    case 'left':
      return [left];
    case 'right':
      return [right];
    case 'sum':
      return [left.map((x, i) => (x + (right[i] as number)) / 2)];
  }
}
