import { z } from 'zod';
import { measured } from '../loudness/measured';
import type { Parameter } from '../parameter/parameter';
import { shapeOf } from '../parameter/schema';
import { initialValues, optionsOf } from '../parameter/values';
import type { Audio } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { processOf } from './process/processes';
import { type ProcessorName, processorOf } from './processors';

const RATES = [8000, 44100, 192000];
const FRAMES = 700;

/** The contract of every processor: call it in a test file, once for each. */
export function processorContract(name: ProcessorName): void {
  const { parameters, gain } = processorOf(name);
  const settings = [initialValues(parameters), ...extremes(parameters)];
  const run = (audio: Audio, values: object) => processOf(name)(audio, values as never, measured);

  describe(`${name} as a processor`, () => {
    test('mono and stereo, 8 to 192 kHz, extreme settings: finite, the same again, the input unchanged', () => {
      for (const sampleRate of RATES)
        for (const [n, values] of settings.entries()) {
          // A long tail at a high rate takes seconds: there all are at their limits together.
          if (sampleRate === 192000 && n > 0 && n < settings.length - 2) continue;
          for (const channels of sampleRate === 44100 ? [1, 2] : [1 + (n % 2)]) {
            const audio = noise(channels, sampleRate);
            const before = { ...audio, channels: audio.channels.map((channel) => channel.slice()) };
            const out = run(audio, values);
            expect(isSame(audio, before)).toBe(true);
            expect(out.sampleRate).toBe(sampleRate);
            expect(out.channels.length).toBeGreaterThan(0);
            expect(new Set(out.channels.map((c) => c.length)).size).toBe(1);
            expect(out.channels.every(isAllFinite)).toBe(true);
            if (sampleRate === 44100) expect(isSame(run(before, values), out)).toBe(true);
          }
        }
    });

    test('silence stays silence, and nothing stays nothing', () => {
      const silent: Audio = { sampleRate: 44100, channels: [new Float32Array(FRAMES), new Float32Array(FRAMES)] };
      for (const values of name === 'dc' ? settings.slice(0, 1) : settings) {
        expect(run(silent, values).channels.every((channel) => channel.every((x) => x === 0))).toBe(true);
        expect(run({ sampleRate: 44100, channels: [new Float32Array(0)] }, values).channels[0]).toHaveLength(0);
      }
    });

    test('values out of bounds are refused', () => {
      const schema = z.object(shapeOf(parameters)).partial();
      for (const [key, p] of Object.entries(parameters)) {
        const wrong = p.kind === 'number' ? [p.low - 1e-3, p.high + 1e-3, Number.NaN] : ['no such value', 7];
        for (const value of wrong) expect(schema.safeParse({ [key]: value }).success).toBe(false);
      }
    });

    test('a processor that only multiplies says by how much', () => {
      if (!gain) return;
      const audio = noise(2, 44100);
      for (const values of settings) {
        const by = gain(() => measured(audio), values as never);
        const out = run(audio, values);
        for (const [c, channel] of out.channels.entries())
          for (const [i, x] of channel.entries()) expect(x).toBeCloseTo((audio.channels[c]?.[i] as number) * by, 2);
      }
    });
  });
}

/** Each parameter at each of its limits, or of its choices, with all others initial; and all at once. */
function extremes(parameters: Readonly<Record<string, Parameter>>): object[] {
  const initial = initialValues(parameters);
  const single = Object.entries(parameters).flatMap(([key, p]) =>
    ends(p).map((value) => ({ ...initial, [key]: value })),
  );
  const all = (at: 0 | -1) => Object.fromEntries(Object.entries(parameters).map(([key, p]) => [key, ends(p).at(at)]));
  return [...single, all(0), all(-1)];
}

function ends(p: Parameter): readonly unknown[] {
  if (p.kind === 'number') return [p.low, p.high];
  if (p.kind === 'data') return [''];
  if (p.kind === 'list') return [[], ...extremes(p.item).map((item) => [item]), extremes(p.item)];
  return optionsOf(p).map(([value]) => value);
}

/** A plain loop: a room's tail has millions of samples. */
function isAllFinite(channel: Float32Array): boolean {
  for (let i = 0; i < channel.length; i++) if ((channel[i] as number) - (channel[i] as number) !== 0) return false;
  return true;
}

/** Bit for bit; Jest's own comparison takes minutes for millions of samples. */
function isSame(a: Audio, b: Audio): boolean {
  const bytes = ({ buffer, byteOffset, byteLength }: Float32Array) => Buffer.from(buffer, byteOffset, byteLength);
  return (
    a.channels.length === b.channels.length &&
    a.channels.every((channel, c) => bytes(channel).equals(bytes(b.channels[c] as Float32Array)))
  );
}

function noise(channelCount: number, sampleRate: number): Audio {
  const random = seededRandom(channelCount * sampleRate);
  const channels = Array.from({ length: channelCount }, () =>
    Float32Array.from({ length: FRAMES }, () => 2 * random() - 1),
  );
  return { sampleRate, channels };
}
