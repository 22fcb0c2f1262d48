import { seededRandom } from '../signal/random';
import { Sketcher } from './sketch';
import { tailSources } from './tails';

const RATE = 44100;
const random = seededRandom(9);

/** Strokes added up: noise that falls by 60 dB in `seconds`, at a level, from a time on. */
function strokes(...all: readonly { at: number; seconds: number; level: number }[]): Float32Array {
  const out = new Float32Array(3 * RATE);
  for (const { at, seconds, level } of all)
    for (let i = 0; i < Math.min(seconds, 3 - at) * RATE; i++) {
      const k = Math.round(at * RATE) + i;
      out[k] = (out[k] as number) + level * (random() - 0.5) * 10 ** ((-3 * i) / (seconds * RATE));
    }
  return out;
}

function sourcesOf(samples: Float32Array, times: readonly number[]): (number | null)[] {
  const sketcher = new Sketcher(RATE);
  const starts = times.map((t) => Math.round(t * RATE));
  return tailSources(
    starts.map((startFrame, i) => {
      const endFrame = starts[i + 1] ?? samples.length;
      return { startFrame, endFrame, sketch: sketcher.sketch(samples, startFrame, endFrame) };
    }),
    RATE,
  );
}

test('what rings on over short strokes is told of the stroke that rings, and not of the one before', () => {
  const long = strokes(
    { at: 0.1, seconds: 2.5, level: 0.8 },
    { at: 0.5, seconds: 0.1, level: 0.8 },
    { at: 0.9, seconds: 0.1, level: 0.8 },
    { at: 1.3, seconds: 0.1, level: 0.8 },
  );
  expect(sourcesOf(long, [0.1, 0.5, 0.9, 1.3])).toEqual([null, 0, 0, 0]);
});

test('of strokes that ring alike it is the one before; where nothing rings, none', () => {
  const alike = strokes(
    ...[0.1, 0.6, 1.1].map((at) => ({ at, seconds: 1, level: 0.8 })),
    ...[2.5].map((at) => ({ at, seconds: 0.2, level: 0.8 })),
  );
  expect(sourcesOf(alike, [0.1, 0.6, 1.1, 2.5])).toEqual([null, 0, 1, null]);
});

test('slices that are struck as one do not ring on into each other, in whatever order they come', () => {
  const flam = strokes({ at: 0.1, seconds: 2.5, level: 0.5 }, { at: 1, seconds: 0.3, level: 0.5 });
  const sketcher = new Sketcher(RATE);
  const slice = (t: number, end: number) => {
    const [startFrame, endFrame] = [Math.round(t * RATE), Math.round(end * RATE)];
    return { startFrame, endFrame, sketch: sketcher.sketch(flam, startFrame, endFrame) };
  };
  expect(tailSources([slice(1.012, 2), slice(0.1, 1), slice(1, 2)], RATE)).toEqual([1, null, 1]);
});
