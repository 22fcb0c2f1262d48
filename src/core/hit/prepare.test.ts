import { rootOf } from '../describe/root';
import { momentaryLufs } from '../loudness/loudness';
import type { Audio } from '../signal/audio';
import { peakOf, toMono } from '../signal/audio';
import { toDb } from '../signal/units';
import type { Step } from '../treatment/step';
import { HIT_INITIAL } from './initial';
import type { TreatedHit } from './key';
import { prepareHit, soundingEnds, type Ticks } from './prepare';
import { renderHit } from './render';

const RATE = 48000;
const DELAY = 4800;

/** A decaying tone that starts 100 ms into its file, with an offset under all of it. */
function struck(level: number, dc = 0): Audio {
  const samples = Float32Array.from({ length: RATE }, (_, i) => {
    const t = i - DELAY;
    return dc + (t < 0 ? 0 : level * Math.sin((2 * Math.PI * 220 * t) / RATE) * Math.exp(-t / 4000));
  });
  return { sampleRate: RATE, channels: [samples] };
}

const hit: TreatedHit = {
  ...HIT_INITIAL,
  id: 'hit-000001',
  name: 'x',
  family: null,
  recordingId: 'rec-000001',
  startFrame: 1000,
  endFrame: 1000 + RATE,
  sliceId: null,
  steps: [],
};

/** The hit's sound once it has been prepared, as it is played. */
function heard(audio: Audio, ticks: Ticks, means = [0], of = hit): { peakDb: number; lufs: number } {
  const { steps } = prepareHit(of, audio, ticks, means);
  const done = steps.map(
    ({ processor, position, values }): Step => ({
      id: processor,
      hitId: of.id,
      processor,
      position,
      active: true,
      ...values,
    }),
  );
  const { audio: sound, gain } = renderHit({ ...of, steps: done }, () => audio);
  return { peakDb: toDb(peakOf(sound.channels) * gain), lufs: momentaryLufs(sound) + toDb(gain) };
}

test('nothing asked, nothing changed', () => {
  expect(prepareHit(hit, struck(0.5), new Set(), [0])).toEqual({
    startFrame: 1000,
    endFrame: 1000 + RATE,
    rootHz: null,
    steps: [],
  });
});

test('silence goes off the ends: the start within half a millisecond of the attack, the tail followed by 60 dB', () => {
  const [from, to] = soundingEnds(toMono(struck(0.5)), RATE);
  expect(Math.abs(from - DELAY)).toBeLessThan(RATE * 0.0005);
  expect(from).toBeLessThanOrEqual(DELAY + 2);
  // exp(-t / 4000) has fallen by 66 dB after some 30,400 frames; 10 ms are kept after that.
  expect(Math.abs(to - DELAY - 30_400)).toBeLessThan(700);
  expect(prepareHit(hit, struck(0.5), new Set(['ends']), [0])).toMatchObject({
    startFrame: 1000 + from,
    endFrame: 1000 + to,
  });
  expect(soundingEnds(new Float32Array(50), RATE)).toEqual([0, 50]);
});

test('a level by peak brings the peak to -1 dBFS, the offset taken off first', () => {
  const { peakDb } = heard(struck(0.25, 0.1), new Set(['dc', 'peak']), [0.1]);
  expect(Math.abs(peakDb + 1)).toBeLessThan(0.01);
});

test('an offset under a step of 16 bits is left alone, and silence is not levelled', () => {
  expect(prepareHit(hit, struck(0.5), new Set(['dc']), [1e-5]).steps).toEqual([]);
  expect(prepareHit(hit, struck(0), new Set(['peak']), [0]).steps).toEqual([]);
});

test('a level by loudness brings quiet and loud to one loudness, but no peak over -0.5 dBFS', () => {
  for (const level of [0.4, 0.06])
    expect(Math.abs(heard(struck(level), new Set(['loudness'])).lufs + 18)).toBeLessThan(0.01);
  const click = struck(0);
  (click.channels[0] as Float32Array)[DELAY] = 0.5;
  expect(Math.abs(heard(click, new Set(['loudness'])).peakDb + 0.5)).toBeLessThan(0.01);
});

test('prepared again, a hit keeps its steps: the offset first, the level after all else', () => {
  const { steps } = prepareHit(hit, struck(0.2, 0.1), new Set(['dc', 'peak']), [0.1]);
  const done = steps.map(
    ({ processor, position, values }, i): Step => ({
      id: `step-${i}`,
      hitId: hit.id,
      processor,
      position,
      active: true,
      ...values,
    }),
  );
  expect(done.map(({ processor }) => processor)).toEqual(['dc', 'level']);
  const again = prepareHit({ ...hit, steps: done }, struck(0.2, 0.1), new Set(['dc', 'loudness']), [0.1]);
  expect(again.steps.map(({ id }) => id)).toEqual(['step-0', 'step-1']);
  expect(again.steps[1]?.values).toEqual({ to: 'loudness' });
});

describe('roots', () => {
  const tone = (hz: (t: number) => number, decay: number, seconds = 0.8) => {
    let phase = 0;
    return Float32Array.from({ length: RATE * seconds }, (_, i) => {
      phase += (2 * Math.PI * hz(i / RATE)) / RATE;
      return Math.sin(phase) * Math.exp((-i / RATE) * decay);
    });
  };
  const cents = (hz: number | undefined, wanted: number) => 1200 * Math.log2((hz ?? 1) / wanted);

  test.each([41.2, 55, 110, 220, 523.25, 1046.5])('%d Hz within two cents', (hz) => {
    expect(
      Math.abs(
        cents(
          rootOf(
            tone(() => hz, 5),
            RATE,
          )?.hz,
          hz,
        ),
      ),
    ).toBeLessThan(2);
  });

  test('a drum that sweeps down has the pitch it settles on', () => {
    const sweep = tone((t) => 60 + 200 * Math.exp(-t * 60), 6);
    expect(Math.abs(cents(rootOf(sweep, RATE)?.hz, 60))).toBeLessThan(10);
  });

  test('harmonics do not move it, and noise has none', () => {
    const rich = Float32Array.from({ length: RATE }, (_, i) => {
      const t = i / RATE;
      return (
        [1, 0.7, 0.5, 0.3].reduce((s, a, k) => s + a * Math.sin(2 * Math.PI * 130.8 * (k + 1) * t), 0) *
        Math.exp(-t * 3)
      );
    });
    expect(Math.abs(cents(rootOf(rich, RATE)?.hz, 130.8))).toBeLessThan(2);
    let seed = 1;
    const noise = Float32Array.from({ length: RATE }, () => {
      seed = (seed * 16807) % 2147483647;
      return seed / 1073741823.5 - 1;
    });
    expect(rootOf(noise, RATE)).toBeNull();
    expect(rootOf(new Float32Array(RATE), RATE)).toBeNull();
  });
});
