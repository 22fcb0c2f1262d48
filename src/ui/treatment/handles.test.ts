import type { Step } from '@/core/treatment/step';
import { handlesOf } from './handles';

const step = (processor: Step['processor'], values = {}): Step => ({
  id: 's',
  position: 0,
  processor,
  active: true,
  ...values,
});
const at = (of: Step, label: string) => handlesOf(of, 48_000, 48_000).find((h) => h.label === label);

test('each handle stands on what it moves, and moved to where it stands it changes nothing', () => {
  const of = step('envelope', { attackMs: 10, holdMs: 20, decayMs: 200, sustainDb: -12, releaseMs: 100 });
  expect(handlesOf(of, 48_000, 48_000).map(({ frame }) => frame)).toEqual([480, 1440, 11_040, 43_200]);
  for (const handle of handlesOf(of, 48_000, 48_000)) expect(of).toMatchObject(handle.moved(handle.frame, -12));
  const fades = step('fades', { inMs: 5, outMs: 30 });
  for (const handle of handlesOf(fades, 48_000, 48_000)) expect(fades).toMatchObject(handle.moved(handle.frame, 0));
});

test('moved past the ends it stays within the range', () => {
  expect(at(step('fades'), 'fade out')?.moved(60_000, 0)).toEqual({ outMs: 0 });
  expect(at(step('envelope', { attackMs: 50 }), 'hold')?.moved(0, 0)).toEqual({ holdMs: 0 });
  expect(at(step('length', { timeMs: 300 }), 'length')?.moved(-5, 0)).toEqual({ timeMs: 1 });
  expect(handlesOf(step('length', { to: 'level' }), 48_000, 48_000)).toEqual([]);
});
