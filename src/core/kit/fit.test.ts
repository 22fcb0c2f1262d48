import { padOf } from '../../../test/pads';
import { detectOnsets } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import { VoiceEngine } from '../play/engine';
import { MODE_NAMES, type PadSound } from '../play/program';
import { frameCount, peakOf } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { fittedHit } from './fit';
import { loopIn } from './loop-in';
import type { Pad } from './model';
import { playedSounds, poolHits, wholeStroke } from './render';

const RATE = 48_000;
/** Two bars of eighths at 100 BPM, cut 3 ms too long, as people cut. */
const BPM = 100;
const EIGHTH = (RATE * 60) / BPM / 2;
const FRAMES = 16 * EIGHTH + 144;

/** Bursts of noise that die away within 60 ms. */
function loop() {
  const random = seededRandom(9);
  const samples = new Float32Array(FRAMES);
  for (let n = 0; n < 16; n++)
    for (let i = 0; i < 3000; i++) {
      const at = n * EIGHTH + i;
      samples[at] = 0.5 * Math.exp(-i / 500) * (2 * random() - 1);
    }
  return { sampleRate: RATE, channels: [samples] };
}

const CUTS = Array.from({ length: 16 }, (_, n) => ({ atMs: (n * EIGHTH * 1000) / RATE }));

function played(set: Partial<Pad>, tempoBpm: number): { sound: PadSound; memory: Float32Array } {
  const source = loop();
  const { pad, layers } = padOf(0, { loopBpm: BPM, cuts: CUTS, ...set }, [[0, FRAMES]]);
  const fitted = layers.map(({ layer, hit }) => ({ layer, hit: fittedHit(pad, hit, tempoBpm) }));
  const pool = poolHits(
    fitted.map(({ hit }) => hit),
    (_, from, to) => ({ ...source, channels: source.channels.map((channel) => channel.slice(from, to)) }),
  );
  const { memory, sounds } = playedSounds([{ pad, layers: fitted, steps: [] }], pool, RATE, tempoBpm);
  return { sound: sounds[0] as PadSound, memory };
}

/** Frames at which sound begins after at least 10 ms of silence. */
function beginnings(samples: Float32Array): number[] {
  const found: number[] = [];
  let quiet = RATE;
  for (const [i, x] of samples.entries()) {
    if (Math.abs(x) > 1e-3) {
      if (quiet > 480) found.push(i);
      quiet = 0;
    } else quiet++;
  }
  return found;
}

describe.each([60, 87, 100, 140, 200])('a loop of 100 BPM in a kit of %d', (tempoBpm) => {
  const eighth = (RATE * 60) / tempoBpm / 2;

  test('by its slices: every stroke on its frame, bit for bit, round after round', () => {
    const { sound, memory } = played({ fit: 'slices', mode: 'switched', fadeOutMs: 0, velocityDb: 0 }, tempoBpm);
    const engine = new VoiceEngine(RATE, memory);
    engine.setPad(0, sound);
    engine.strike(0, 127, 1000);
    const frames = Math.round(40 * eighth);
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
    engine.process(left, right, frames);
    const starts = beginnings(left);
    expect(starts).toHaveLength(40);
    for (const [n, at] of starts.entries()) expect(Math.abs(at - 1000 - n * eighth)).toBeLessThanOrEqual(1);
    const source = loop().channels[0] as Float32Array;
    const own = Math.min(2500, Math.floor(eighth) - 200);
    expect(left.subarray(1000, 1000 + own)).toEqual(source.subarray(0, own));
    // Struck again it stops, within the time of letting go.
    engine.strike(0, 127, engine.frame);
    engine.process(left, right, 9600);
    engine.process(left, right, 9600);
    expect(peakOf([left.subarray(0, 9600)])).toBe(0);
    expect(engine.sounds).toBe(false);
  });

  test('stretched: whole beats long, its strokes where the tempo has them, each attack as it was', () => {
    const { sound, memory } = played({ fit: 'stretched', mode: 'switched', fadeOutMs: 0 }, tempoBpm);
    const [layer] = sound.layers;
    expect((layer?.loopEnd ?? 0) - (layer?.start ?? 0)).toBe(Math.round(16 * eighth));
    const heard = memory.subarray(layer?.start, layer?.loopEnd);
    const strokes = selectOnsets(detectOnsets(heard, RATE), {}, RATE).map(({ frame }) => frame);
    expect(strokes).toHaveLength(16);
    for (const [n, at] of strokes.entries()) expect(Math.abs(at - n * eighth)).toBeLessThan(0.002 * RATE);
    const source = loop().channels[0] as Float32Array;
    const second = Math.round(eighth);
    for (let i = 0; i < 480; i++) expect(heard[second + i]).toBeCloseTo(source[EIGHTH + i] as number, 5);
  });
});

test.each(MODE_NAMES)('%s: let go, choked by its group and stopped', (mode) => {
  const { sound, memory } = played({ fit: 'slices', mode, chokeGroup: 3 }, 100);
  const plays = (act: (engine: VoiceEngine) => void) => {
    const engine = new VoiceEngine(RATE, memory);
    engine.setPad(0, sound);
    engine.setPad(1, { ...sound, bySlices: 0, layers: [] });
    engine.strike(0, 100, 0);
    act(engine);
    const frames = 20 * EIGHTH - 10;
    const left = new Float32Array(frames);
    engine.process(left, new Float32Array(frames), frames);
    return beginnings(left).length;
  };
  const whole = mode === 'switched' ? 20 : 16;
  expect(plays(() => {})).toBe(mode === 'looped' ? 20 : whole);
  expect(plays((engine) => engine.release(0, 3 * EIGHTH + 10))).toBe(mode === 'held' || mode === 'looped' ? 4 : whole);
  expect(plays((engine) => engine.strike(1, 100, 3 * EIGHTH + 10))).toBe(4);
  expect(plays((engine) => engine.stop(-1, 3 * EIGHTH + 10))).toBe(4);
  expect(plays((engine) => engine.strike(0, 100, 3.5 * EIGHTH))).toBe(
    mode === 'switched' ? 4 : mode === 'looped' ? 21 : 20,
  );
});

test('a changed tempo is followed from the next slice on', () => {
  const { sound, memory } = played({ fit: 'slices', mode: 'switched' }, 100);
  const engine = new VoiceEngine(RATE, memory);
  engine.setPad(0, sound);
  engine.strike(0, 127, 0);
  const frames = 10 * EIGHTH;
  const left = new Float32Array(frames);
  engine.process(left, new Float32Array(frames), 2 * EIGHTH + 100);
  engine.setPad(0, played({ fit: 'slices', mode: 'switched' }, 200).sound);
  engine.process(left, new Float32Array(frames), frames - 2 * EIGHTH - 100, 2 * EIGHTH + 100);
  const apart = beginnings(left).map((at, i, all) => at - (all[i - 1] ?? 0));
  expect(apart.slice(1, 4).every((x) => Math.abs(x - EIGHTH) <= 1)).toBe(true);
  expect(apart.slice(4).every((x) => Math.abs(x - EIGHTH / 2) <= 50)).toBe(true);
});

test('printed as one stroke, a loop by its slices is as long as it lasts', () => {
  const { sound, memory } = played({ fit: 'slices', mode: 'looped' }, 120);
  const [left] = wholeStroke(sound, memory, RATE, 127);
  expect(beginnings(left)).toHaveLength(16);
});

test('what a recording says of a loop: its slices, or the strokes that are found, and its tempo', () => {
  const audio = loop();
  const [hit] = padOf(0, {}, [[0, frameCount(audio)]]).layers.map((l) => l.hit);
  if (!hit) throw new Error('no hit');
  const candidates = detectOnsets(audio.channels[0] as Float32Array, RATE);
  const found = loopIn({ sampleRate: RATE, tempoBpm: null, slices: [], candidates }, hit, FRAMES);
  expect(Math.abs((found.loopBpm ?? 0) - BPM)).toBeLessThan(1);
  expect(found.cuts).toHaveLength(16);
  const slices = CUTS.slice(0, 4).map(({ atMs }) => ({ startFrame: (atMs * RATE) / 1000, endFrame: FRAMES }));
  expect(loopIn({ sampleRate: RATE, tempoBpm: 50, slices, candidates }, hit, FRAMES)).toEqual({
    loopBpm: 50,
    cuts: CUTS.slice(0, 4),
  });
  // Without any stroke the length decides.
  expect(loopIn({ sampleRate: RATE, tempoBpm: null, slices: [], candidates: [] }, hit, 8 * 24_000).loopBpm).toBe(120);
});
