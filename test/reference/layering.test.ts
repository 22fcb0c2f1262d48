import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { withBandGains } from '../../src/core/filter/crossover';
import { readWav, writeWav } from '../../src/core/format/wav';
import { peakOf } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { remove, scratch, undercroft } from '../harness';

const RATE = 48_000;
const folder = scratch();
afterAll(() => remove(folder));
const path = (name: string) => join(folder, name);

function kick(hz: number, at: number, level: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: RATE }, (_, i) => {
    const t = (i - at) / RATE;
    if (t < 0) return 1e-4 * (random() - 0.5);
    const click = Math.exp(-t / 0.004) * (random() - 0.5);
    return level * (Math.min(1, t / 0.001) * Math.exp(-t / 0.15) * Math.sin(2 * Math.PI * hz * t) + 0.3 * click);
  });
}

// ffmpeg's acrossover of fourth order is the network of S. Linkwitz and R. Riley.
test.each([200, 1000])('the bands at %d Hz are those of ffmpeg, sample by sample', (hz) => {
  const random = seededRandom(3);
  const x = Float32Array.from({ length: RATE }, () => random() - 0.5);
  writeFileSync(path('in.wav'), writeWav({ sampleRate: RATE, channels: [x] }, 'f32'));
  const filter = `acrossover=split=${hz}:order=4th:precision=double[low][high]`;
  const out = (name: string) => ['-map', `[${name}]`, '-c:a', 'pcm_f32le', path(`${name}.wav`)];
  execFileSync('ffmpeg', [
    ...['-y', '-v', 'error', '-i', path('in.wav'), '-filter_complex', filter],
    ...out('low'),
    ...out('high'),
  ]);
  for (const [band, name] of ['low', 'high'].entries()) {
    const wanted = readWav(readFileSync(path(`${name}.wav`))).audio.channels[0] as Float32Array;
    const own = withBandGains(x, [hz], band === 0 ? [1, 0] : [0, 1], RATE);
    const error = peakOf([own.map((v, i) => v - (wanted[i] as number))]);
    expect(20 * Math.log10(error / peakOf([wanted]))).toBeLessThan(-80);
  }
});

interface Report {
  readonly layers: readonly { readonly offsetFrames: number; readonly inverted: boolean; readonly levelDb: number }[];
  readonly sumPeakDb: number;
  readonly lostUnder200HzDb: number;
  readonly startFrame: number;
}

describe('undercroft layer', () => {
  const write = (name: string, samples: Float32Array, sampleRate = RATE) =>
    writeFileSync(path(name), writeWav({ sampleRate, channels: [samples] }, 's24'));
  const run = (...args: string[]) =>
    JSON.parse(undercroft('layer', ...args, '--out', path('sum.wav'), '--json')) as Report;

  test('two kicks 9 ms apart whose lows cancel are lined up and turned; the file is their sum', () => {
    const shift = Math.round(0.009 * RATE);
    const [a, b] = [kick(52, 480, 0.5, 1), kick(52, 480 + shift, -0.5, 2)];
    write('a.wav', a);
    write('b.wav', b);
    const apart = run(path('a.wav'), path('b.wav'));
    expect(apart.layers.map((l) => l.offsetFrames)).toEqual([0, 0]);
    const lined = run(path('a.wav'), path('b.wav'), '--line-up', '--encoding', 'f32');
    expect(Math.abs((lined.layers[1]?.offsetFrames ?? 0) + shift)).toBeLessThanOrEqual(RATE * 0.0002);
    expect(lined.layers.map((l) => l.inverted)).toEqual([false, true]);
    expect(lined.lostUnder200HzDb).toBe(0);
    const { audio } = readWav(readFileSync(path('sum.wav')));
    expect(20 * Math.log10(peakOf(audio.channels))).toBeCloseTo(lined.sumPeakDb, 2);
    const at = 5000;
    const offset = lined.layers[1]?.offsetFrames ?? 0;
    const wanted = (a[at] as number) - (b[at - offset] as number);
    expect(audio.channels[0]?.[at - lined.startFrame]).toBeCloseTo(wanted, 5);
  });

  test('by their lows, copies of which one is inverted come together to the sample', () => {
    const a = kick(52, 900, 0.5, 1);
    const b = Float32Array.from(a, (_, i) => -(a[i + 300] ?? 0));
    write('c.wav', a);
    write('d.wav', b);
    const { layers } = run(path('c.wav'), path('d.wav'), '--line-up', '--by', 'lows');
    expect(layers[1]).toMatchObject({ offsetFrames: 300, inverted: true });
  });

  test('other rates are brought to the first file’s; shared, the lows come from one', () => {
    write('low.wav', kick(50, 100, 0.5, 3));
    const bright = Float32Array.from({ length: 22_050 }, (_, i) => 0.3 * Math.exp(-i / 2000) * Math.sin(i / 3));
    write('bright.wav', bright, 22_050);
    const report = run(path('low.wav'), path('bright.wav'), '--line-up', '--share') as Report & {
      readonly edgesHz: readonly number[];
      readonly sampleRate: number;
    };
    expect(report.sampleRate).toBe(RATE);
    expect(report.edgesHz).toHaveLength(1);
    expect(report.lostUnder200HzDb).toBeLessThan(0.5);
  });

  test('silence, one file alone and nine files are answered with words or a sound result', () => {
    write('silent.wav', new Float32Array(4800));
    const report = run(path('a.wav'), path('silent.wav'), '--line-up', '--share', '--mend');
    expect(report.lostUnder200HzDb).toBe(0);
    expect(Number.isFinite(report.sumPeakDb)).toBe(true);
    expect(() => run(path('a.wav'))).toThrow(/2 to 8 layers; 1 given/);
    expect(() => run(...Array.from({ length: 9 }, () => path('a.wav')))).toThrow(/2 to 8 layers; 9 given/);
  });
});
