import type { ToldFamily } from '../describe/family';
import { velocityGain } from '../play/gains';
import type { Rhythm } from '../rhythm/rhythm';
import { toDb } from '../signal/units';
import { grooveFromRhythm, type StruckSlice } from './from-rhythm';

const rhythm: Rhythm = {
  ...{ bpm: 120, bpmConfidence: 1, octaves: [], downbeatFrame: 0, downbeatConfidence: 1, beats: 4, beatUnit: 4 },
  notes: [{ frame: 0, quarters: 0, group: 0, velocity: 1 }],
};

/** Families that are played for one stroke of a kick, the loudest first, with their velocities. */
function played(set: Partial<StruckSlice>, guess: ToldFamily = 'kick') {
  const slice: StruckSlice = {
    ...{ family: 'kick', also: [], alsoDb: [] },
    guess: { family: guess, confidence: 0.6, drum: 1, contains: [guess] },
    ...set,
  };
  let made = 0;
  const whole = grooveFromRhythm(rhythm, [{ family: 'kick' }], 'One', () => `${made++}`, { sliceAt: () => slice });
  const familyOf = new Map(whole?.rows.map(({ id, family }) => [id, family]));
  return (whole?.notes ?? []).map(({ rowId, velocity }) => [familyOf.get(rowId), velocity] as const);
}

test('a second drum is struck as much softer as it was heard', () => {
  const [kick, hat, ...none] = played({ also: ['closed hat'], alsoDb: [-20] });
  expect(kick).toEqual(['kick', 127]);
  expect(hat?.[0]).toBe('closed hat');
  // As a pad with that range answers it (SoundFont technical specification 2.04, 8.4.1); velocities are whole.
  expect(Math.abs(toDb(velocityGain(hat?.[1] ?? 0, 40)) + 20)).toBeLessThan(0.6);
  expect(none).toEqual([]);
});

test('a slice that is taken for another family than its shelf is played by both', () => {
  expect(played({}, 'tom').map(([family]) => family)).toEqual(['kick', 'tom']);
});
