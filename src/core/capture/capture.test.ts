import { demoRecordings } from '../../demo/scenario';
import { playDrummer } from '../drummer/drummer';
import { RHYTHMS } from '../drummer/rhythms';
import { momentaryLufs } from '../loudness/loudness';
import { detectOnsets } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';
import { filled } from '../parameter/values';
import { unpackNoise } from '../restoration/noise';
import { peakOf, toMono } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { fromDb, toDb } from '../signal/units';
import { Capture, type TakeSink } from './capture';
import { InputMeter } from './meter';
import { CAPTURE_PARAMETERS, type CaptureSettings } from './parameters';
import type { HeardRoom } from './room';
import { SimulatedInput } from './simulated';
import { newSharedSound, QUANTUM, SoundRing } from './sound-ring';
import { StrokesAsTheyFall } from './strokes';
import { InputWatch } from './warnings';

const RATE = 48_000;
/** Blocks as a worker takes them out of the ring: of no fixed length. */
const BLOCK = 1733;

interface Kept {
  readonly frames: Float32Array;
  readonly channelCount: number;
  readonly room: HeardRoom | null;
  readonly ended: boolean;
}

/** Has a capture hear some sound; `at` calls something before the block that holds a frame. */
function heard(
  input: readonly Float32Array[],
  set: Partial<CaptureSettings>,
  at: Readonly<Record<number, (capture: Capture) => void>>,
): { readonly capture: Capture; readonly takes: readonly Kept[] } {
  const takes: { frames: number[]; channelCount: number; room: HeardRoom | null; ended: boolean }[] = [];
  const sink: TakeSink = {
    begin: (_rate, channelCount) => takes.push({ frames: [], channelCount, room: null, ended: false }),
    take: ([left = new Float32Array()]) => {
      for (const x of left) takes.at(-1)?.frames.push(x);
    },
    end: (room) => Object.assign(takes.at(-1) as object, { room, ended: true }),
  };
  const channels = input.length === 1 ? 1 : 2;
  const capture = new Capture(RATE, channels, filled(CAPTURE_PARAMETERS, set), sink);
  const length = input[0]?.length ?? 0;
  const due = Object.entries(at).map(([frame, work]) => ({ frame: Number(frame), work }));
  for (let from = 0; from < length; from += BLOCK) {
    for (const { frame, work } of due) if (frame >= from && frame < from + BLOCK) work(capture);
    capture.add(input.map((x) => x.slice(from, from + BLOCK)));
  }
  return { capture, takes: takes.map((take) => ({ ...take, frames: Float32Array.from(take.frames) })) };
}

function noise(frames: number, db: number, seed = 1): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, () => fromDb(db) * Math.sqrt(3) * (2 * random() - 1));
}

/** Room noise with a decaying tone at each of some frames. */
function struck(frames: number, at: readonly number[], roomDb = -70): Float32Array {
  const out = noise(frames, roomDb);
  for (const from of at)
    for (let i = 0; i < RATE / 4 && from + i < frames; i++)
      out[from + i] =
        (out[from + i] as number) + 0.5 * Math.exp(-i / 2000) * Math.sin((2 * Math.PI * 180 * i) / RATE + 0.5);
  return out;
}

describe('strokes of a take while it is recorded', () => {
  const drummed = RHYTHMS.flatMap((rhythm, n) =>
    (n % 3 === 0 ? [0.1, 1] : [1]).map((speed) => ({
      name: `${rhythm.name} at ${speed}`,
      x: playDrummer(rhythm, speed, 1, 1, RATE).samples,
    })),
  ).map((item) => ({ ...item, sampleRate: RATE }));
  const demo = demoRecordings()
    .filter(({ audio }) => (audio.channels[0]?.length ?? 0) < 30 * audio.sampleRate)
    .map(({ title, audio }) => ({ name: title, x: toMono(audio), sampleRate: audio.sampleRate }));

  test.each([...drummed, ...demo])('are those that Slice finds afterwards: $name', ({ x, sampleRate }) => {
    const afterwards = selectOnsets(detectOnsets(x, sampleRate, peakOf([x])), SPLIT_INITIAL, sampleRate);
    const live = new StrokesAsTheyFall(sampleRate);
    const found: { readonly frame: number; readonly toldAt: number }[] = [];
    for (let at = 0; at < x.length; at += BLOCK)
      for (const { frame } of live.add(x.subarray(at, at + BLOCK))) found.push({ frame, toldAt: at + BLOCK });
    for (const { frame } of live.finish()) found.push({ frame, toldAt: x.length });
    expect(found).toHaveLength(afterwards.length);
    for (const [i, { frame }] of afterwards.entries())
      expect(Math.abs((found[i]?.frame ?? 0) - frame)).toBeLessThan(0.005 * sampleRate);
    // Told soon enough to be laid on a pad while the next one falls.
    for (const { frame, toldAt } of found) expect(toldAt - frame).toBeLessThan(0.4 * sampleRate);
  });
});

describe('a take', () => {
  test('begins at once with the next frame and ends with the last one that came', () => {
    const x = struck(3 * RATE, [RATE, 2 * RATE]);
    const { takes } = heard([x], {}, { [BLOCK * 10]: (c) => c.arm(0), [BLOCK * 60]: (c) => c.stop() });
    expect(takes).toHaveLength(1);
    expect(takes[0]?.frames).toEqual(x.slice(BLOCK * 10, BLOCK * 60));
  });

  test('begins when it gets loud, with the second before it, to the frame', () => {
    const x = struck(6 * RATE, [3 * RATE, 4 * RATE]);
    const loud = x.findIndex((y) => Math.abs(y) > fromDb(-20));
    const { takes, capture } = heard(
      [x],
      { begin: 'loud', loudDb: -20, beforeS: 1 },
      { [RATE]: (c) => c.arm(0), [x.length - 1]: (c) => c.stop() },
    );
    const [take] = takes;
    expect(take?.frames.subarray(0, 2 * RATE)).toEqual(x.subarray(loud - RATE, loud + RATE));
    expect(capture.takeGrown().strokes).toHaveLength(2);
  });

  test('waits through the noise of the room, whatever its level, and not through a stroke', () => {
    for (const roomDb of [-80, -60, -45]) {
      const x = struck(6 * RATE, [4 * RATE], roomDb);
      const { takes } = heard([x], { begin: 'loud', beforeS: 0 }, { [2 * RATE]: (c) => c.arm(0) });
      expect(takes).toHaveLength(1);
      expect(Math.abs((takes[0]?.frames.length ?? 0) - 2 * RATE)).toBeLessThan(0.02 * RATE);
    }
  });

  test('begins a quarter of a second before the first beat after a count-in', () => {
    const x = noise(4 * RATE, -50);
    const { takes } = heard([x], { begin: 'count' }, { [BLOCK * 20]: (c) => c.arm(2) });
    const first = BLOCK * 20 + 2 * RATE - RATE / 4;
    expect(takes[0]?.frames.subarray(0, RATE)).toEqual(x.subarray(first, first + RATE));
  });

  test('ends after so much silence, once something was loud', () => {
    const x = struck(12 * RATE, [2 * RATE, 5 * RATE]);
    const { takes } = heard([x], { stopAfterS: 3 }, { 0: (c) => c.arm(0) });
    expect(takes[0]?.ended).toBe(true);
    const seconds = (takes[0]?.frames.length ?? 0) / RATE;
    expect(seconds).toBeGreaterThan(8);
    expect(seconds).toBeLessThan(8.6);
  });

  test('takes the channels that are wanted', () => {
    const [left, right] = [noise(RATE, -20, 1), noise(RATE, -20, 2)];
    const of = (channels: CaptureSettings['channels']) =>
      heard([left, right], { channels }, { 0: (c) => c.arm(0) }).takes[0];
    expect(of('all')?.channelCount).toBe(2);
    expect(of('right')?.frames).toEqual(right);
    expect(of('left')?.channelCount).toBe(1);
    expect(of('sum')?.frames[7]).toBeCloseTo(((left[7] as number) + (right[7] as number)) / 2, 6);
  });

  test('keeps the room before the first stroke: its level, and its spectrum for noise reduction', () => {
    for (const [before, armedAt] of [
      ['heard before the take', 2 * RATE],
      ['heard in the take', 0],
    ] as const) {
      const x = struck(6 * RATE, [4 * RATE], -62);
      const { takes } = heard([x], {}, { [armedAt]: (c) => c.arm(0), [5 * RATE]: (c) => c.stop() });
      expect([before, Math.abs((takes[0]?.room?.levelDb ?? 0) + 62) < 1]).toEqual([before, true]);
      expect(unpackNoise(takes[0]?.room?.spectrum as Uint8Array)).not.toBeNull();
    }
  });

  test('has no room where strokes leave no gap, or nothing is heard at all', () => {
    const busy = struck(
      4 * RATE,
      Array.from({ length: 40 }, (_, n) => n * RATE * 0.1),
    );
    expect(heard([busy], {}, { 0: (c) => c.arm(0), [3 * RATE]: (c) => c.stop() }).takes[0]?.room).toBeNull();
    const silent = new Float32Array(2 * RATE);
    expect(heard([silent], {}, { 0: (c) => c.arm(0), [RATE]: (c) => c.stop() }).takes[0]?.room).toBeNull();
  });

  test('gives a stroke that has just fallen to a pad, sample by sample', () => {
    const x = struck(4 * RATE, [2 * RATE]);
    const { capture } = heard([x], {}, { 0: (c) => c.arm(0) });
    const audio = capture.heard(2 * RATE - 100, 2 * RATE + 5000);
    expect(audio?.channels[0]).toEqual(x.slice(2 * RATE - 100, 2 * RATE + 5000));
    expect(capture.heard(2 * RATE, capture.frames + 1)).toBeNull();
  });
});

describe('what is told of an input', () => {
  test('loudness is that of the whole file (ITU-R BS.1770), peaks are held, clipped samples counted', () => {
    const x = struck(2 * RATE, [RATE]);
    x[1000] = 1;
    const meter = new InputMeter(RATE, 1);
    let loudest = Number.NEGATIVE_INFINITY;
    for (let at = 0; at < x.length; at += 480) {
      meter.add([x.subarray(at, at + 480)]);
      loudest = Math.max(loudest, meter.reading.lufs);
    }
    expect(Math.abs(loudest - momentaryLufs({ sampleRate: RATE, channels: [x] }))).toBeLessThan(0.1);
    expect(meter.reading).toMatchObject({ held: [1], clipped: 1 });
    meter.reset();
    expect(meter.reading.clipped).toBe(0);
  });

  const faultsOf = (x: Float32Array, strokes: readonly number[] = [], clipped = 0) => {
    const watch = new InputWatch(RATE);
    watch.add(x);
    for (const peak of strokes) watch.struck(peak);
    return watch.faults({ clipped }).map(({ kind }) => kind);
  };

  test('silence, low strokes, clipping', () => {
    expect(faultsOf(new Float32Array(3 * RATE))).toEqual(['nothing']);
    expect(faultsOf(noise(3 * RATE, -70), [0.004, 0.01, 0.006])).toEqual(['low']);
    expect(faultsOf(noise(3 * RATE, -70), [0.004, 0.3, 0.006])).toEqual([]);
    expect(faultsOf(noise(RATE, -70), [], 12)).toEqual(['clips']);
  });

  test('a tone that stays or grows is feedback; a drum that rings, and music, are not', () => {
    const howl = Float32Array.from(
      { length: 3 * RATE },
      (_, i) => Math.min(1, 1e-3 * Math.exp(i / 12_000)) * Math.sin((2 * Math.PI * 1240 * i) / RATE),
    );
    expect(faultsOf(howl)).toContain('feedback');
    const watch = new InputWatch(RATE);
    watch.add(howl);
    const [fault] = watch.faults({ clipped: 0 });
    expect(fault?.kind === 'feedback' && Math.abs(fault.hz - 1240) < 12).toBe(true);
    expect(faultsOf(struck(4 * RATE, [RATE, 2 * RATE]))).toEqual([]);
    for (const { title, audio } of demoRecordings()) {
      const x = toMono(audio).slice(0, 20 * audio.sampleRate);
      const other = new InputWatch(audio.sampleRate);
      other.add(x);
      expect([title, other.faults({ clipped: 0 }).map(({ kind }) => kind)]).toEqual([title, []]);
    }
  });
});

describe('the simulated input', () => {
  const [take] = demoRecordings();
  const audio = take?.audio ?? { sampleRate: RATE, channels: [] };

  test('is the same however it is read, has a room, swings of level, and clips now and then', () => {
    const whole = new SimulatedInput(audio, 5).read(40 * RATE);
    const other = new SimulatedInput(audio, 5);
    for (let at = 0; at < RATE; at += 777) expect(other.read(777)).toEqual(whole.slice(at, at + 777));
    expect(new SimulatedInput(audio, 6).read(1000)).not.toEqual(whole.slice(0, 1000));
    expect(toDb(peakOf([whole]))).toBe(0);
    expect(whole.every((x) => Math.abs(x) <= 1)).toBe(true);
  });
});

describe('the ring between audio thread and worker', () => {
  test('carries every block in order, tells of lost ones, and never overwrites', () => {
    const shared = newSharedSound(8 * QUANTUM);
    const [writer, reader] = [new SoundRing(shared), new SoundRing(shared)];
    const block = (n: number) => new Float32Array(QUANTUM).fill(n);
    const [left, right] = [new Float32Array(QUANTUM), new Float32Array(QUANTUM)];
    const read: number[] = [];
    for (let n = 1; n <= 100; n++) {
      if (n === 50) {
        writer.noteGap(1);
        writer.write(undefined, undefined);
      } else writer.write(block(n), block(-n));
      if (n % 7 === 0)
        while (reader.waiting > 0) {
          reader.read(left, right, 0);
          expect(right[0] === -(left[0] as number)).toBe(true);
          read.push(left[0] as number);
        }
    }
    expect(read).toEqual(Array.from({ length: 98 }, (_, i) => (i === 49 ? 0 : i + 1)));
    expect(reader.takeGaps()).toEqual([{ frame: 49 * QUANTUM, frames: QUANTUM }]);
    expect(reader.takeGaps()).toEqual([]);
    expect(reader.framesRead).toBe(98 * QUANTUM);
    for (let n = 0; n < 6; n++) writer.write(block(n), undefined);
    expect([writer.isFull, writer.room]).toEqual([true, 0]);
  });
});
