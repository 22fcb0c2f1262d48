import { withBandGains } from '../filter/crossover';
import { MEMBER_INITIAL, OUT_DB } from '../layering/parameters';
import { truePeakOf } from '../resampling/oversampling';
import { type Audio, cut, toMono } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { fromDb, toDb } from '../signal/units';
import { newStep } from '../treatment/step';
import { finishOf } from './finish';
import { HIT_INITIAL } from './initial';
import { audioKey, contentKey, isPlain, memberHit, recordingsOf, type TreatedHit, type TreatedMember } from './key';
import type { Hit } from './model';
import { Renderer, renderHit } from './render';

const RATE = 48_000;

function decaying(frames: number, seed: number, at = 0): Audio {
  const random = seededRandom(seed);
  const channel = Float32Array.from({ length: frames }, (_, i) =>
    i < at ? 0 : 0.5 * (random() - 0.5) * Math.exp(-(i - at) / 1500),
  );
  return { sampleRate: RATE, channels: [channel] };
}

const sources: Readonly<Record<string, Audio>> = {
  mill: decaying(12_000, 1, 600),
  weir: decaying(12_000, 2, 600),
};
const read = ({ recordingId, startFrame, endFrame }: Hit) => cut(sources[recordingId] as Audio, startFrame, endFrame);
const hit = (id: string, recordingId: string, set: Partial<TreatedHit> = {}): TreatedHit => ({
  ...HIT_INITIAL,
  ...{ id, name: id, family: null, recordingId, startFrame: 0, endFrame: 9000, sliceId: null, steps: [] },
  ...set,
});
const member = (of: TreatedHit, set: Partial<TreatedMember> = {}): TreatedMember => ({
  ...MEMBER_INITIAL,
  ...{ id: `member-${of.id}`, layeredId: 'layered', hitId: of.id, position: 0, steps: [], hit: of },
  ...set,
});
const step = (processor: Parameters<typeof newStep>[1], values = {}) => ({
  ...newStep('x', processor, 0, values),
  id: 's',
});
const [mill, weir] = [hit('mill-hit', 'mill'), hit('weir-hit', 'weir')];

test('layers in bands add up to what they are alone in them, and carry their hit’s gain', () => {
  const quiet = hit('quiet', 'weir', { steps: [step('level', { gainDb: -6 })] });
  const edgesHz = [300];
  const layered = hit('layered', 'mill', {
    edgesHz,
    members: [member(mill, { bandsDb: [0, OUT_DB] }), member(quiet, { bandsDb: [OUT_DB, -3], offsetFrames: 10 })],
  });
  const { audio, gain } = renderHit(layered, read);
  expect(gain).toBe(1);
  const low = withBandGains(toMono(read(mill)), edgesHz, [1, 0], RATE);
  const high = withBandGains(toMono(read(quiet)), edgesHz, [0, fromDb(-3)], RATE);
  for (const i of [0, 9, 10, 700, 5000]) {
    const wanted = (low[i] as number) + fromDb(-6) * (high[i - 10] ?? 0);
    expect(audio.channels[0]?.[i]).toBeCloseTo(wanted, 6);
  }
});

test('moving, levelling or turning a layer renders none of them again; another step of one renders that one', () => {
  const treated = hit('treated', 'weir', { steps: [step('reverse')] });
  const layered = (set: Partial<TreatedMember>) =>
    hit('layered', 'mill', { members: [member(mill, { steps: [step('saturation')] }), member(treated, set)] });
  const renderer = new Renderer(1 << 26);
  const count = (of: TreatedHit) => {
    let steps = 0;
    renderer.render(of, read, () => steps++);
    return steps;
  };
  expect(count(layered({}))).toBe(2);
  expect(count(layered({ offsetFrames: 400, levelDb: -3, inverted: true, pan: 0.5 }))).toBe(0);
  expect(count(layered({ semitones: 3 }))).toBe(0);
  expect(count(layered({ steps: [step('fades', { outMs: 5 })] }))).toBe(1);
});

test('its key tells what is heard: not ids and names, nor what muted layers do', () => {
  const of = (...members: TreatedMember[]) => hit('layered', 'mill', { members });
  const muted = (set: Partial<TreatedMember>) => member(weir, { muted: true, ...set });
  expect(audioKey(of(member(mill), muted({})))).toBe(audioKey(of(member(mill), muted({ offsetFrames: 9 }))));
  expect(audioKey(of(member(mill)))).toBe(audioKey(of(member({ ...mill, id: 'other', name: 'Other' }))));
  expect(audioKey(of(member(mill)))).not.toBe(audioKey(of(member(mill, { offsetFrames: 1 }))));
  const louder = hit('mill-hit', 'mill', { steps: [step('level', { gainDb: 1 })] });
  expect(contentKey(of(member(louder)))).not.toBe(contentKey(of(member(mill))));
  expect(isPlain(of(member(mill)))).toBe(false);
  expect(recordingsOf(of(member(mill), member(of(member(weir)))))).toEqual(['mill', 'weir']);
});

test('a layer’s own steps come after all that its hit does', () => {
  const inherits = hit('inherits', 'mill', { inherited: [step('reverse')], steps: [step('fades', { inMs: 50 })] });
  const played = memberHit({ hit: inherits, steps: [step('reverse')] });
  const { audio } = renderHit(played, read);
  const own = renderHit(inherits, read).audio.channels[0] as Float32Array;
  expect([...(audio.channels[0] as Float32Array)]).toEqual([...own].reverse());
});

test('with all layers muted it is a moment of silence', () => {
  const { audio } = renderHit(hit('layered', 'mill', { members: [member(mill, { muted: true })] }), read);
  expect(audio.channels).toEqual([new Float32Array(1)]);
});

describe('finishing a print', () => {
  const twice = decaying(40_000, 5, 900);
  const again = decaying(16_000, 6, 0).channels[0] as Float32Array;
  const channel = twice.channels[0] as Float32Array;
  for (const [i, x] of again.entries()) channel[24_000 + i] = (channel[24_000 + i] as number) + x;
  const wanted = { onAttack: true, oneStrike: true, fadeMs: 5, truePeakDbtp: -1 };

  test('it starts within a millisecond of the attack, ends before a second strike, and peaks as told', () => {
    const { steps, attackMs, againMs } = finishOf(twice, wanted);
    expect(Math.abs(attackMs - 900 / 48)).toBeLessThan(0.3);
    expect(Math.abs((againMs ?? 0) - 500)).toBeLessThan(5);
    const made = steps.map((one, position) => ({ ...one, id: `${position}`, position, active: true }));
    const source = { sampleRate: RATE, channels: twice.channels };
    const { audio, gain } = renderHit(hit('print', 'mill', { steps: made }), () => source);
    const printed = audio.channels[0] as Float32Array;
    const first = printed.findIndex((x) => Math.abs(x) > 0.01);
    expect(first / 48).toBeLessThan(1);
    expect(printed.length / 48).toBeLessThan((againMs ?? 0) - attackMs);
    expect(printed.at(-1)).toBe(0);
    expect(toDb(truePeakOf(audio.channels) * gain)).toBeCloseTo(-1, 2);
  });

  test('one strike has no second one; what is not wanted is not done; silence stays silence', () => {
    expect(finishOf(decaying(20_000, 5, 900), wanted).againMs).toBeNull();
    const nothing = { onAttack: false, oneStrike: false, fadeMs: 0, truePeakDbtp: null };
    expect(finishOf(twice, nothing).steps).toEqual([]);
    const silent = { sampleRate: RATE, channels: [new Float32Array(4800)] };
    expect(finishOf(silent, wanted).againMs).toBeNull();
  });
});
