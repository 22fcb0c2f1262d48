import { padOf } from '../../../test/pads';
import { PLAIN_LAYER, SILENT } from '../play/program';
import { perform } from './perform';
import { NO_PROGRAMS } from './programs';

test('a file denser than the engine can queue loses no note', () => {
  const NOTES = 5000;
  const { pad } = padOf(0, { note: 36 });
  // One frame of full level: the sum of what is heard counts the notes.
  const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: 1 };
  const kit = {
    ...{ sampleRate: 48_000, memory: new Float32Array([1, 0]), limits: false },
    kit: { seed: 1, evenVelocity: 127, velocityExponent: 1 },
    pads: [{ pad, sound: { ...SILENT, layers: [layer] } }],
    buses: [],
    programs: NO_PROGRAMS,
  };
  const messages = Array.from({ length: NOTES }, (_, i) => ({
    ...{ tick: i, track: 0, seconds: Math.floor(i / 2) / 48_000 },
    message: { kind: 'note-on', channel: 9, note: 36, velocity: 100 } as const,
  }));
  let sum = 0;
  for (const [left] of perform(kit, messages)) for (const x of left) sum += x;
  expect(sum).toBe(NOTES);
});
