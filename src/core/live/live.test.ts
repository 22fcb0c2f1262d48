import { Kernel } from '../kernel/kernel';
import { type Laid, laidFloats, laidFrames, liveSteps } from '../kit/live-steps';
import { roomResponse } from '../room/response';
import type { Audio } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { toDb } from '../signal/units';
import { LIVE_NAMES, type LiveName, liveValues, type PadStep } from '../treatment/live';
import { processOf } from '../treatment/process/processes';
import { STEPS_FLOATS, writeSteps } from './figures';
import { halfBand } from './half-band';
import { layRoom } from './lay-room';
import { Strip } from './strip';

// The processors of treatments are held against the published formulas and against ffmpeg in their own tests; here what
// runs live is held against them.

const RATE = 44_100;
const FRAMES = 40_000;

function step(processor: LiveName, values: Record<string, unknown> = {}): PadStep {
  return { id: processor, padId: 'p', position: 0, processor, active: true, ...values } as PadStep;
}

/** A stroke: noise that dies away over a falling sine, left and right not the same. */
function stroke(): Audio {
  const random = seededRandom(5);
  const channels = [0.8, 0.5].map((level) =>
    Float32Array.from({ length: FRAMES }, (_, i) => {
      const t = i / RATE;
      return level * (0.5 * Math.exp(-30 * t) * (2 * random() - 1) + Math.exp(-9 * t) * Math.sin(560 * t));
    }),
  );
  return { sampleRate: RATE, channels };
}

interface Run {
  readonly strip: Strip;
  readonly programs: Float64Array;
  readonly memory: Float32Array;
}

function laid(steps: readonly PadStep[]): Run {
  const rooms = new Map<string, { at: number; frames: number }>();
  let floats = 0;
  for (const one of steps) {
    const frames = laidFrames(one, RATE, 120);
    if (frames > 0) rooms.set(one.id, { at: floats, frames });
    floats += frames > 0 ? laidFloats(one, frames) : 0;
  }
  const memory = new Float32Array(floats);
  for (const one of steps)
    if (one.processor === 'room')
      layRoom(
        roomResponse(liveValues(one as PadStep & { processor: 'room' }), RATE),
        memory,
        (rooms.get(one.id) as Laid).at,
      );
  const strip = new Strip(memory);
  const programs = new Float64Array(STEPS_FLOATS);
  turn({ strip, programs, memory }, steps, rooms);
  return { strip, programs, memory };
}

function turn({ strip, programs }: Run, steps: readonly PadStep[], rooms: ReadonlyMap<string, Laid> = new Map()): void {
  writeSteps(
    liveSteps(steps, RATE, ({ id }) => rooms.get(id) ?? null),
    programs,
    0,
  );
  strip.follow(programs, 0);
}

/** Runs audio through a strip by calls of `block` frames; `before` is called before each. */
function run({ strip }: Run, { channels }: Audio, block = 128, frames = FRAMES, before?: (at: number) => void): Audio {
  const [l, r] = channels as [Float32Array, Float32Array];
  const out = [new Float32Array(frames), new Float32Array(frames)] as const;
  const bus = new Float32Array(2 * block);
  for (let at = 0; at < frames; at += block) {
    before?.(at);
    const count = Math.min(block, frames - at);
    for (let i = 0; i < count; i++) {
      bus[2 * i] = l[at + i] ?? 0;
      bus[2 * i + 1] = r[at + i] ?? 0;
    }
    strip.process(bus, 0, count, at, at < l.length);
    for (let i = 0; i < count; i++) {
      out[0][at + i] = bus[2 * i] as number;
      out[1][at + i] = bus[2 * i + 1] as number;
    }
  }
  return { sampleRate: RATE, channels: [...out] };
}

function treated(audio: Audio, one: PadStep): Audio {
  const values = liveValues(one);
  return processOf(one.processor)(audio, { lookAheadMs: 0, ...values } as never, () => {
    throw new Error('not measured');
  });
}

function furthest(a: Audio, b: Audio, frames = FRAMES): number {
  let most = 0;
  for (const [c, channel] of a.channels.entries())
    for (let i = 0; i < frames; i++)
      most = Math.max(most, Math.abs((channel[i] as number) - ((b.channels[c] as Float32Array)[i] ?? 0)));
  return most;
}

const point = (values: Record<string, unknown>) => ({
  kind: 'bell',
  active: true,
  frequencyHz: 1000,
  gainDb: 6,
  widthOct: 1,
  slope: 0.7,
  steepDb: 12,
  ...values,
});

test.each([
  step('equaliser', {
    points: [
      point({ frequencyHz: 90, gainDb: 9 }),
      point({ kind: 'high-pass', frequencyHz: 40, steepDb: 48 }),
      point({ kind: 'high-shelf', frequencyHz: 6000, gainDb: -8 }),
      point({ kind: 'notch', frequencyHz: 700, widthOct: 0.3 }),
    ],
  }),
  step('compressor', { thresholdDb: -30, ratio: 8, attackMs: 3, releaseMs: 60, makeUpDb: 7, mix: 0.7 }),
  step('compressor', { thresholdDb: -24, ratio: 3, kneeDb: 0, attackMs: 0, by: 'rms' }),
  step('room', { mix: 0.4 }),
  step('room', { kind: 'plate', decayS: 0.9, tone: 1, mix: 1 }),
  step('echo', { timeMs: 130, feedback: 0.6, toneHz: 3000, mix: 0.5 }),
  step('echo', { timeMs: 61.3, feedback: 0.4, sides: 'to-and-fro', mix: 0.7 }),
])('$processor sounds live as it does as a treatment', (one) => {
  const audio = stroke();
  expect(furthest(run(laid([one]), audio), treated(audio, one))).toBeLessThan(2e-6);
});

describe('echo', () => {
  const CLICK = 0.8;
  const click = (): Audio => ({
    sampleRate: RATE,
    channels: [CLICK, 0].map((x) => Float32Array.from({ length: 10 }, (_, i) => (i === 0 ? x : 0))),
  });

  test('each echo is the one before through a one-pole low-pass, on its frame', () => {
    const [timeMs, feedback, toneHz] = [40, 0.5, 2000];
    const { channels } = treated(click(), step('echo', { timeMs, feedback, toneHz, mix: 1 }));
    const length = Math.round((timeMs / 1000) * RATE);
    // The low-pass by its impulse response (J. O. Smith, "Introduction to Digital Filters", one-pole filters).
    const pole = Math.exp((-2 * Math.PI * toneHz) / RATE);
    let wanted = Float64Array.from({ length: 400 }, (_, k) => CLICK * (1 - pole) * pole ** k);
    for (let n = 1; n <= 5; n++) {
      for (let k = 0; k < 400; k++)
        expect(Math.abs((channels[0]?.[n * length + k] ?? 0) - (wanted[k] as number))).toBeLessThan(1e-6);
      expect(Math.max(...(channels[1] as Float32Array))).toBe(0);
      const next = new Float64Array(400);
      for (let i = 0; i < 400; i++)
        for (let k = 0; k + i < 400; k++)
          next[i + k] = (next[i + k] as number) + feedback * (wanted[i] as number) * (1 - pole) * pole ** k;
      wanted = next;
    }
  });

  test('to and fro: by turns left and right, each as loud as the feedback says', () => {
    const { channels } = treated(
      click(),
      step('echo', { timeMs: 50, feedback: 0.5, toneHz: 20_000, sides: 'to-and-fro', mix: 1 }),
    );
    const length = Math.round(0.05 * RATE);
    const sum = (side: 0 | 1, n: number) =>
      (channels[side] as Float32Array).subarray(n * length, (n + 1) * length).reduce((all, x) => all + x, 0);
    for (const [n, side] of [
      [1, 0],
      [2, 1],
      [3, 0],
      [4, 1],
    ] as const) {
      expect(sum(side, n)).toBeCloseTo((CLICK / 2) * 0.5 ** (n - 1), 5);
      expect(sum(side === 0 ? 1 : 0, n)).toBe(0);
    }
  });

  test('rests when all has rung out, not between two echoes', () => {
    const one = laid([step('echo', { timeMs: 500, feedback: 0.3, mix: 1 })]);
    const out = run(one, click(), 128, 10 * RATE);
    expect(Math.max(...(out.channels[0] as Float32Array).subarray(RATE, 1.1 * RATE))).toBeGreaterThan(1e-3);
    run(one, click(), 128, 12 * RATE);
    expect(one.strip.isQuiet).toBe(true);
  });
});

describe('saturation', () => {
  const sine = (hz: number, level: number): Audio => {
    const x = Float32Array.from({ length: FRAMES }, (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE));
    return { sampleRate: RATE, channels: [x, x] };
  };
  /** Levels in dB at whole multiples of a bin's frequency, and the highest elsewhere up to 20 kHz, of 16,384 frames. */
  const spectrum = ({ channels }: Audio, bin: number) => {
    const kernel = new Kernel();
    const size = 16_384;
    const z = kernel.run.reserve(16 * size);
    const twiddles = kernel.run.reserve(12 * size);
    kernel.run.fillTwiddles(twiddles, size);
    kernel.floats(z, size).set((channels[0] as Float32Array).subarray(16_384, 32_768));
    const at = kernel.run.transform(z, z + 8 * size, size, twiddles);
    const [re, im] = [kernel.floats(at, size), kernel.floats(at + 4 * size, size)];
    const level = (k: number) => toDb((2 * Math.hypot(re[k] as number, im[k] as number)) / size + 1e-12);
    const last = Math.floor((20_000 / RATE) * size);
    let alias = -240;
    for (let k = 1; k < last; k++) if (k % bin !== 0) alias = Math.max(alias, level(k));
    return {
      overtones: [1, 2, 3, 4, 5]
        .map((n) => n * bin)
        .filter((k) => k < 0.7 * last)
        .map(level),
      alias,
    };
  };
  const bin = 1857;
  const hz = (bin * RATE) / 16_384;

  test.each(['round', 'cut', 'lean', 'fold'])('%s: aliases under -80 dBFS at 5 kHz and every drive', (character) => {
    for (const driveDb of [0, 12, 24, 36]) {
      const { alias } = spectrum(run(laid([step('saturation', { character, driveDb })]), sine(hz, 0.9)), bin);
      expect(alias).toBeLessThan(-80);
    }
  });

  test.each(['round', 'cut', 'lean', 'fold'])('%s: the overtones of the treatment within 0.2 dB', (character) => {
    const low = 93;
    for (const driveDb of [0, 9, 20]) {
      const one = step('saturation', { character, driveDb, toneHz: 3000, outputDb: -2 });
      const audio = sine((low * RATE) / 16_384, 0.7);
      const live = spectrum(run(laid([one]), audio), low).overtones;
      const whole = spectrum(treated(audio, one), low).overtones;
      for (const [i, level] of whole.entries())
        if (level > -70) expect(Math.abs((live[i] as number) - level)).toBeLessThan(0.2);
    }
  });

  test('what is mixed in unbent stays in phase: a gentle drive over half of it changes no level', () => {
    const one = step('saturation', { driveDb: -12, outputDb: 12, mix: 0.5 });
    for (const at of [40, 400, 2000, 5000]) {
      const { overtones } = spectrum(run(laid([one]), sine((at * RATE) / 16_384, 0.01)), at);
      expect(overtones[0]).toBeCloseTo(-40, 1);
    }
  });

  test('half-band filters pass up to 20 kHz within 0.01 dB and hold images under -100 dB', () => {
    const half = halfBand(12, 0.046);
    const frames = 16_384;
    for (const bins of [100, 3000, 7400]) {
      const x = Float64Array.from({ length: frames }, (_, i) => Math.sin((2 * Math.PI * bins * i) / 16_384));
      const raiser = new Kernel();
      const both = Float64Array.from({ length: 2 * frames }, (_, i) => x[i >> 1] as number);
      const raised = raiser.run.reserve(32 * frames);
      const state = raiser.lay(new Float64Array(4 * half.length));
      raiser.run.raisePair(raiser.lay(both), frames, raiser.lay(half), half.length, state, raised);
      const out = raiser.doubles(raised, 4 * frames).filter((_, i) => i % 2 === 0);
      const kernel = new Kernel();
      const z = kernel.run.reserve(16 * frames);
      const twiddles = kernel.run.reserve(12 * frames);
      kernel.run.fillTwiddles(twiddles, frames);
      kernel.floats(z, frames).set(out.subarray(frames));
      const at = kernel.run.transform(z, z + 8 * frames, frames, twiddles);
      const level = (k: number) =>
        toDb(
          Math.hypot(kernel.floats(at, frames)[k] as number, kernel.floats(at + 4 * frames, frames)[k] as number) /
            (frames / 2),
        );
      // At twice the rate a bin of half as many frames is half as wide.
      expect(level(bins / 2)).toBeCloseTo(0, 2);
      expect(level(frames / 2 - bins / 2)).toBeLessThan(-100);
    }
  });
});

const many = () => [
  step('equaliser', { id: 'e', points: [point({ gainDb: 5 })] }),
  step('saturation', { id: 's', driveDb: 12, mix: 0.6 }),
  step('compressor', { id: 'c', thresholdDb: -24 }),
  step('room', { id: 'r', decayS: 0.25, mix: 0.3 }),
];

test('the same for every block length, while steps are turned, taken away and put in', () => {
  const audio = stroke();
  const play = (block: number) => {
    const strip = laid(many());
    const frames = 60_000;
    let turned = 0;
    return run(strip, audio, block, frames, (at) => {
      if (turned === 0 && at >= 3000) {
        turned = 1;
        turn(strip, [step('equaliser', { points: [point({ gainDb: -9, frequencyHz: 300 })] }), ...many().slice(1, 3)]);
      }
      if (turned === 1 && at >= 12_000) {
        turned = 2;
        turn(strip, many().slice(1, 3));
      }
    });
  };
  const whole = play(1000);
  for (const block of [1, 40, 200]) expect(furthest(play(block), whole, 60_000)).toBe(0);
});

test('rests when all has rung out, and gives the same stroke again', () => {
  const strip = laid(many());
  const audio = stroke();
  const first = run(strip, audio, 128, 120_064);
  expect(strip.strip.isQuiet).toBe(true);
  expect(first.channels[0]?.at(-1)).toBe(0);
  expect(furthest(run(strip, audio, 128, 120_064), first)).toBe(0);
});

test.each(LIVE_NAMES)('%s: turned, switched and taken out without a jump', (processor) => {
  const sine: Audio = {
    sampleRate: RATE,
    channels: [0, 1].map(() =>
      Float32Array.from({ length: FRAMES }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 100 * i) / RATE)),
    ),
  };
  const values = { points: [point({ frequencyHz: 100, gainDb: 3 })] };
  const own = processor === 'equaliser' ? values : {};
  const strip = laid([step(processor, own)]);
  const steep = 4 * 0.5 * 2 * Math.PI * (100 / RATE);
  let [last, most] = [0, 0];
  run(strip, sine, 128, FRAMES, (frame) => {
    if (frame === 128 * 60) turn(strip, [step(processor, { ...own, mix: 0.1 })]);
    if (frame === 128 * 100) turn(strip, [step(processor, { ...own, active: false })]);
    if (frame === 128 * 140) turn(strip, []);
    if (frame === 128 * 180) turn(strip, [step(processor, { ...own })]);
  }).channels[0]?.forEach((x) => {
    most = Math.max(most, Math.abs(x - last));
    last = x;
  });
  expect(most).toBeLessThan(steep);
});
