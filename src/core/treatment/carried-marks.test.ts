import { carriedMarks } from './carried-marks';
import type { Step } from './step';

const step = (processor: Step['processor'], values = {}): Step => ({
  id: 's',
  position: 0,
  processor,
  active: true,
  ...values,
});
const printed = { startFrame: 1000, endFrame: 9000, frames: 8000, sampleRate: 48_000 };

test('marks move by the start of the stretch; what lies outside is left out, what reaches over is cut', () => {
  const { frame, stretch } = carriedMarks([step('equaliser')], printed);
  expect(frame(1500)).toBe(500);
  expect([frame(999), frame(9000)]).toEqual([null, null]);
  expect(stretch(500, 2000)).toEqual({ startFrame: 0, endFrame: 1000 });
  expect(stretch(8000, 12_000)).toEqual({ startFrame: 7000, endFrame: 8000 });
  expect(stretch(100, 1000)).toBeNull();
});

test('an octave up halves the places, a reversal mirrors them, a step that is off does nothing', () => {
  const up = carriedMarks([step('tune', { semitones: 12 })], { ...printed, frames: 4000 });
  expect(up.frame(3000)).toBe(1000);
  const kept = carriedMarks([step('tune', { semitones: 12, keep: 'length' })], printed);
  expect(kept.frame(3000)).toBe(2000);
  const back = carriedMarks([step('reverse')], printed);
  expect(back.stretch(2000, 3000)).toEqual({ startFrame: 6000, endFrame: 7000 });
  expect(carriedMarks([{ ...step('reverse'), active: false }], printed).frame(2000)).toBe(1000);
});
