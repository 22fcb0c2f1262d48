import { joinBytes } from '../bytes';
import { readWav } from '../format/wav';
import { HIT_INITIAL } from '../hit/initial';
import type { TreatedHit, TreatedMember } from '../hit/key';
import { renderHit, soundOf } from '../hit/render';
import { VoiceEngine } from '../play/engine';
import { FULL_VELOCITY_DB, velocityGain } from '../play/gains';
import { type Audio, cut, peakOf } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { type BundleFile, bundleFiles, finished } from './bundle';
import { keptFromPads, padAsHit, padLayerOf } from './layered';
import type { Pad } from './model';
import type { LayerWithHit } from './pad-sound';
import { padSound, soundingLayers } from './pad-sound';
import { LAYER_INITIAL, type LayerValues, PAD_INITIAL } from './parameters';
import { printPad, velocityZones } from './print';
import { poolHits } from './render';

const RATE = 48_000;
const random = seededRandom(7);
const source: Audio = {
  sampleRate: RATE,
  channels: [0, 1].map(() => Float32Array.from({ length: 9000 }, (_, i) => (random() - 0.5) * Math.exp(-i / 2500))),
};
const pad: Pad = {
  ...{ id: 'pad-0001', kitId: 'kit-0001', position: 0, name: 'Stone', family: 'kick' as const },
  ...{ ...PAD_INITIAL, fadeOutMs: 0, driftCents: 0, driftDb: 0, velocityDb: FULL_VELOCITY_DB },
};
const hit = (id: string, startFrame: number, endFrame: number): TreatedHit => ({
  ...HIT_INITIAL,
  ...{ id, name: id, family: 'kick', recordingId: 'rec-0001', startFrame, endFrame, sliceId: null, steps: [] },
});
const layer = (
  of: TreatedHit,
  position: number,
  set: Partial<LayerValues & { withHitId: string | null }> = {},
): LayerWithHit => ({
  hit: of,
  layer: { ...LAYER_INITIAL, ...set, id: `layer-00${position}`, padId: pad.id, hitId: of.id, position },
});
const read = (stretch: { startFrame: number; endFrame: number }) => cut(source, stretch.startFrame, stretch.endFrame);
const open = (of: TreatedHit) => soundOf(of, (_, from, to) => cut(source, from, to));
const [click, low, air] = [hit('click-001', 0, 3000), hit('low-00001', 3000, 8000), hit('air-00001', 500, 2500)];

test('a pad’s layers and the layered hit of them sound the same', () => {
  const layers = [
    layer(click, 0, { levelDb: -3 }),
    layer(low, 1, { offsetMs: 2, inverted: true, pan: -0.5 }),
    layer(air, 2, { offsetMs: -1, levelDb: -12 }),
  ];
  const printed = printPad(pad, layers, open);
  const { audio } = renderHit(padAsHit('Stone', layers, RATE) as TreatedHit, read);
  expect(audio.channels.map((channel) => channel.length)).toEqual(printed.channels.map((channel) => channel.length));
  for (const [c, channel] of audio.channels.entries())
    for (const [i, x] of channel.entries())
      expect(Math.abs(x - (printed.channels[c]?.[i] as number))).toBeLessThan(1e-6);
});

test('layers become members and layers again', () => {
  const values = { levelDb: -3, pan: 0.25, semitones: -2, cents: 10, offsetMs: 2.5, inverted: true };
  const { members } = padAsHit('Stone', [layer(low, 0, values)], RATE) as TreatedHit;
  const [member] = members as readonly [TreatedMember];
  expect(padLayerOf(member, RATE)).toMatchObject({ ...values, hitId: low.id });
  expect(keptFromPads(member)).toEqual([]);
  expect(keptFromPads({ ...member, bandsDb: [0, -9], muted: true })).toHaveLength(2);
  expect(padAsHit('Stone', [], RATE)).toBeNull();
});

describe('layers for some strokes', () => {
  const layers = [layer(click, 0), layer(low, 1, { lowVelocity: 90 }), layer(air, 2, { highVelocity: 60 })];
  const strike = (velocity: number) => {
    const pool = poolHits([click, low, air], (_, from, to) => cut(source, from, to));
    const engine = new VoiceEngine(RATE, pool.memory);
    engine.setPad(0, padSound(pad, layers, RATE, pool.soundOf, 1));
    engine.strike(0, velocity, 0);
    const [left, right] = [new Float32Array(9000), new Float32Array(9000)];
    engine.process(left, right, 9000);
    return { left, right };
  };

  test('ranges of velocity are told where layers differ, each printed as it is played', () => {
    const ranges = (of: readonly LayerWithHit[]) => velocityZones(of).map(({ low: from, high }) => [from, high]);
    expect(ranges(layers)).toEqual([
      [1, 60],
      [61, 89],
      [90, 127],
    ]);
    expect(ranges([layer(click, 0)])).toEqual([[1, 127]]);
    expect(velocityZones([layer(click, 0, { lowVelocity: 100, highVelocity: 20 })])).toEqual([]);
    const files = finished(bundleFiles({ name: 'Weir' }, [{ pad, layers, steps: [] }], [], open));
    expect(files.filter(({ path }) => path.endsWith('.wav')).map(({ path }) => path)).toEqual([
      'samples/Stone 1-60.wav',
      'samples/Stone 61-89.wav',
      'samples/Stone 90-127.wav',
    ]);
    const text = new TextDecoder().decode(fileOf(files, '.sfz'));
    expect(text.match(/lovel=\d+\nhivel=\d+/g)).toEqual([
      'lovel=1\nhivel=60',
      'lovel=61\nhivel=89',
      'lovel=90\nhivel=127',
    ]);
    // Each file is what the engine plays for the hardest stroke of its range, apart from the velocity's own gain.
    for (const high of [60, 89, 127]) {
      const { channels } = readWav(fileOf(files, `${high}.wav`)).audio;
      const { left } = strike(high);
      for (const [i, x] of (channels[0] as Float32Array).entries())
        expect(Math.abs((left[i] as number) / velocityGain(high) - x)).toBeLessThan(3 / 2 ** 23);
      expect(peakOf([left], channels[0]?.length)).toBe(0);
    }
  });

  test('a layer for one take is silent under the others', () => {
    const under = [layer(click, 0), layer(low, 1, { withHitId: click.id }), layer(air, 2, { withHitId: low.id })];
    expect(soundingLayers(under).map(({ hit: of }) => of.id)).toEqual([click.id, low.id]);
    expect(printPad(pad, under, open).channels[0]).toHaveLength(5000);
  });
});

function fileOf(files: readonly BundleFile[], end: string): Uint8Array {
  const file = files.find(({ path }) => path.endsWith(end));
  return joinBytes([...(file?.pieces() ?? [])]);
}
