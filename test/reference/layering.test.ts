import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import FFT from 'fft.js';
import { withBandGains } from '../../src/core/filter/crossover';
import { readWav, writeWav } from '../../src/core/format/wav';
import { Addition } from '../../src/core/layering/addition';
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

// IEC 61260-1: middles 1000 * 10^(n/10) Hz, edges 10^(1/20) to either side; powers by the spectra of fft.js.
test('the chart of bands is what the summed samples and the layers have by fft.js, within 0.1 dB', () => {
  const layers = [
    { samples: kick(52, 480, 0.5, 1).subarray(0, 12_000), offsetFrames: 0, levelDb: 0, inverted: false },
    { samples: kick(61, 300, 0.4, 2).subarray(0, 9000), offsetFrames: 211, levelDb: -3, inverted: true },
    { samples: kick(190, 600, 0.2, 3).subarray(0, 7000), offsetFrames: -97, levelDb: 2, inverted: false },
  ];
  const sounds = layers.map(({ samples, ...place }) => ({
    audio: { sampleRate: RATE, channels: [samples] },
    pan: 0,
    ...place,
  }));
  const size = 1 << 20;
  const fft = new FFT(size);
  const powersOf = (samples: Float64Array): Float64Array => {
    const out = fft.createComplexArray();
    fft.realTransform(out, samples);
    return Float64Array.from(
      { length: size / 2 },
      (_, k) => (out[2 * k] as number) ** 2 + (out[2 * k + 1] as number) ** 2,
    );
  };
  const apart = layers.map(({ samples, levelDb, inverted }) => {
    const own = new Float64Array(size);
    for (const [i, x] of samples.entries()) own[i] = (inverted ? -1 : 1) * 10 ** (levelDb / 20) * x;
    return own;
  });
  const sum = new Float64Array(size);
  for (const [n, own] of apart.entries())
    for (let i = 0; i < 12_000; i++) {
      const at = 1000 + (layers[n]?.offsetFrames ?? 0) + i;
      sum[at] = (sum[at] as number) + (own[i] as number);
    }
  const [ofSum, ofLayers] = [powersOf(sum), apart.map(powersOf)];
  const within = (powers: Float64Array, hz: number) => {
    const edge = 10 ** (1 / 20);
    const [from, to] = [(hz / edge / RATE) * size, ((hz * edge) / RATE) * size];
    return powers.subarray(Math.round(from), Math.round(to)).reduce((a, b) => a + b, 0);
  };
  const wanted = Array.from({ length: 29 }, (_, n) => {
    const hz = 1000 * 10 ** ((n - 16) / 10);
    return 10 * Math.log10(within(ofSum, hz) / ofLayers.reduce((total, powers) => total + within(powers, hz), 0));
  });
  let compared = 0;
  for (const [n, db] of new Addition(sounds, 300).bands().entries()) {
    if (db === null) continue;
    compared++;
    expect(Math.abs(db - (wanted[n] as number))).toBeLessThan(0.1);
  }
  expect(compared).toBeGreaterThan(12);
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
