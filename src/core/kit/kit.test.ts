import { padOf } from '../../../test/pads';
import { joinBytes } from '../bytes';
import type { Family } from '../family';
import { writeSfz } from '../format/sfz';
import { readWav } from '../format/wav';
import type { TreatedHit } from '../hit/key';
import { soundOf } from '../hit/render';
import { contiguousRegions } from '../onset/select';
import { VoiceEngine } from '../play/engine';
import { type Audio, cut, peakOf } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { fromDb } from '../signal/units';
import { type BundleFile, bundleFiles, finished, levelParts } from './bundle';
import { creditsSheet } from './credits';
import { freePosition, noteOf, noteOfPlace, positionOfKey, ROWS } from './layout';
import { Pad } from './model';
import { padSound } from './pad-sound';
import { printPad } from './print';
import { rebuild } from './rebuild';
import { poolHits, strikeOnce } from './render';

function noise(frames: number, channels: number, sampleRate = 44100): Audio {
  const random = seededRandom(3);
  return {
    sampleRate,
    channels: Array.from({ length: channels }, () =>
      Float32Array.from({ length: frames }, () => Math.round((random() * 2 - 1) * 4e6) / 8388608),
    ),
  };
}

const source = noise(4000, 2);
const opener = (audio: Audio) => (hit: TreatedHit) => soundOf(hit, (_, start, end) => cut(audio, start, end));
const open = opener(source);

describe('layout', () => {
  test('32 pads, each with a note and a key of its own', () => {
    const notes = Array.from({ length: 32 }, (_, p) => noteOfPlace(p));
    expect(new Set(notes).size).toBe(32);
    expect(new Set(ROWS.flatMap((r) => r.codes)).size).toBe(32);
    expect(positionOfKey('KeyZ')).toBe(0);
    expect(positionOfKey('Digit8')).toBe(31);
    expect(positionOfKey('Space')).toBeNull();
  });

  test('roles lie on the notes of the General MIDI percussion key map (RP-003)', () => {
    const key = (position: number) => noteOfPlace(position);
    // 36 Bass Drum 1, 35 Acoustic Bass Drum, 38 Acoustic Snare, 40 Electric Snare, 42 Closed Hi Hat, 46 Open Hi-Hat, 49 Crash Cymbal 1
    expect([key(0), key(1), key(8), key(9), key(16), key(18), key(19)]).toEqual([36, 35, 38, 40, 42, 46, 49]);
  });

  test('a sound goes to its own row while there is room', () => {
    expect(freePosition(new Set(), 'closed hat')).toBe(16);
    // The next ones are the rim's and the clap's; the first that is no role's own is the fifth.
    expect(freePosition(new Set([8, 9]), 'snare')).toBe(12);
    const first = (count: number) => new Set(Array.from({ length: count }, (_, i) => i));
    expect(freePosition(first(32), 'snare')).toBe(32);
    expect(freePosition(first(128), null)).toBeNull();
  });

  test("a sound lies on one of its role's own notes of the General MIDI percussion key map (RP-003)", () => {
    const takes = (family: Family | null, count: number) => {
      const taken = new Set<number>();
      return Array.from({ length: count }, () => {
        const position = freePosition(taken, family) as number;
        taken.add(position);
        return noteOfPlace(position);
      });
    };
    expect(takes('open hat', 1)).toEqual([46]);
    expect(takes('closed hat', 2)).toEqual([42, 44]);
    expect(takes('kick', 2)).toEqual([36, 35]);
    expect([...takes('tom', 6)].sort()).toEqual([41, 43, 45, 47, 48, 50]);
    expect(takes('cymbal', 1)).toEqual([49]);
    expect([takes('rim', 1), takes('clap', 1)]).toEqual([[37], [39]]);
    // What is more than its role has notes for, and what is of no sure family, stays off the notes of other roles.
    const roles = [35, 36, 37, 38, 39, 40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51, 53, 55, 57];
    for (const note of [...takes('kick', 14).slice(2), ...takes(null, 12), ...takes('effect', 12)])
      expect(roles).not.toContain(note);
    expect(new Set(takes('snare', 32)).size).toBe(32);
  });

  test('a pad has the note of its place unless it was given another', () => {
    expect(noteOf({ position: 0, note: null })).toBe(36);
    expect(noteOf({ position: 0, note: 60 })).toBe(60);
  });
});

describe('printing a pad', () => {
  test('an untouched pad is its stretch, sample for sample', () => {
    const { pad, layers } = padOf(0);
    expect(printPad(pad, layers, open)).toEqual(cut(source, 100, 1100));
  });

  test('layers are summed at their levels', () => {
    const { pad, layers } = padOf(
      0,
      {},
      [
        [0, 500],
        [1000, 1200],
      ],
      { levelDb: -6 },
    );
    const printed = printPad(pad, layers, open);
    const g = 10 ** (-6 / 20);
    for (const i of [0, 150, 199]) {
      const want =
        g * ((source.channels[0] as Float32Array)[i] as number) +
        g * ((source.channels[0] as Float32Array)[1000 + i] as number);
      expect(printed.channels[0]?.[i]).toBeCloseTo(want, 6);
    }
    expect(printed.channels[0]).toHaveLength(500);
  });

  test('normalising brings the peak of the sum to the level asked for, whatever the pad is turned to', () => {
    for (const set of [{}, { semitones: 5 }, { levelDb: -20, pan: 0.5 }]) {
      const { pad, layers } = padOf(0, { normaliseDbfs: -3, ...set }, [
        [0, 800],
        [900, 2000],
      ]);
      expect(20 * Math.log10(peakOf(printPad(pad, layers, open).channels))).toBeCloseTo(-3, 4);
    }
  });

  test('an octave up is half as long; mono stays mono', () => {
    const mono = noise(4000, 1);
    const { pad, layers } = padOf(0, { semitones: 12 });
    const printed = printPad(pad, layers, opener(mono));
    expect(printed.channels.map((c) => c.length)).toEqual([500]);
  });

  test('a pad printed in blocks is what the engine plays of it from memory, sample for sample', () => {
    const long = noise(400_000, 2, 48000);
    for (const set of [{}, { semitones: 7, cents: 12 }, { semitones: -5 }, { semitones: 24 }]) {
      const { pad, layers } = padOf(0, { fadeOutMs: 900, ...set }, [
        [11, 390_001],
        [5000, 90_000],
      ]);
      const hits = layers.map((l) => l.hit);
      const pool = poolHits(hits, (_, start, end) => cut(long, start, end));
      const sound = padSound(pad, layers, 48000, pool.soundOf, 1);
      const played = strikeOnce(sound, pool.memory, 48000);
      for (const [c, channel] of printPad(pad, layers, opener(long)).channels.entries())
        expect(Buffer.from(channel.buffer).equals(Buffer.from((played[c] as Float32Array).buffer))).toBe(true);
    }
  });

  test('a start offset leaves out the beginning, to the frame; past the end there is nothing', () => {
    const { pad, layers } = padOf(0, { startMs: 10 });
    expect(printPad(pad, layers, open)).toEqual(cut(source, 100 + 441, 1100));
    expect(printPad({ ...pad, startMs: 10_000 }, layers, open).channels[0]).toHaveLength(0);
  });

  test('silence is not normalised to anything', () => {
    const { pad, layers } = padOf(0, { normaliseDbfs: -1 });
    const silent = { sampleRate: 44100, channels: [new Float32Array(1000)] };
    expect(peakOf(printPad(pad, layers, opener(silent)).channels)).toBe(0);
  });
});

describe('rebuild', () => {
  test('contiguous slices on pads, played by their marks, are the source bit for bit, more slices than pads included', () => {
    const random = seededRandom(12);
    const starts = Array.from({ length: 75 }, () => Math.floor(random() * 4000));
    const result = rebuild(source, contiguousRegions(starts, 4000));
    expect(result).toMatchObject({ identical: true, residualDb: Number.NEGATIVE_INFINITY });
    expect(result.left).toEqual(source.channels[0]);
    expect(result.right).toEqual(source.channels[1]);
  });

  test('a first slice that starts late plays where it lies, and what lies before it is all that differs', () => {
    const before = Math.max(
      ...[0, 1].flatMap((c) => Array.from(source.channels[c]?.subarray(0, 700) ?? [], (x) => Math.abs(x))),
    );
    const late = [
      { startFrame: 700, endFrame: 2000 },
      { startFrame: 2000, endFrame: 4000 },
    ];
    const result = rebuild(source, late);
    expect(result.residualDb).toBeCloseTo(20 * Math.log10(before), 6);
    expect(result.worstFrame).toBeLessThan(700);
    expect(result.left.subarray(700)).toEqual(source.channels[0]?.subarray(700));
    const many = Array.from({ length: 40 }, (_, i) => ({ startFrame: 700 + i * 82, endFrame: 700 + (i + 1) * 82 }));
    expect(rebuild(source, many).left.subarray(700, 3980)).toEqual(source.channels[0]?.subarray(700, 3980));
  });

  test('a gap is told as a residual', () => {
    const result = rebuild(source, [
      { startFrame: 0, endFrame: 1000 },
      { startFrame: 1001, endFrame: 4000 },
    ]);
    expect(result.identical).toBe(false);
    expect(result.residualDb).toBeGreaterThan(-60);
  });
});

test('a pad of one voice chokes itself alone', () => {
  const { pad, layers } = padOf(3, { voices: 1 });
  const sound = padSound(
    pad,
    layers,
    44100,
    () => ({ left: 0, right: 0, start: 0, end: 2000, sampleRate: 44100, gain: 1 }),
    1,
  );
  const engine = new VoiceEngine(44100, new Float32Array(2000).fill(0.5));
  engine.setPad(3, sound);
  const out = [new Float32Array(1000), new Float32Array(1000)] as const;
  engine.strike(3, 127, 0);
  engine.strike(3, 127, 300);
  engine.process(out[0], out[1], 700);
  // The first strike has faded out within 4 ms of the second: one voice sounds.
  expect(engine.activeVoices).toBe(1);
});

const bytesOf = (file: BundleFile | undefined) => joinBytes([...(file?.pieces() ?? [])]);

describe('bundle', () => {
  const pads = [
    padOf(0, { name: 'Kick/one', levelDb: -3 }),
    padOf(16, { name: 'Hat', chokeGroup: 1, pan: -0.5 }),
    padOf(18, { name: 'hat', mode: 'held', chokeGroup: 1 }),
    { ...padOf(5), layers: [] },
  ];
  const credit = { title: 'Loop', rightsKind: 'unknown', owner: '', text: '', pads: ['Hat'] } as const;
  const files = finished(bundleFiles({ name: 'My "kit"' }, pads, [credit], open));

  test('a WAV a pad that has a sound, names safe and apart even where only case differs', () => {
    expect(files.map((f) => f.path)).toEqual([
      'samples/Kick-one.wav',
      'samples/Hat.wav',
      'samples/hat 2.wav',
      'My -kit.sfz',
      'My -kit.json',
      'kit.schema.json',
      'credits.txt',
    ]);
    const { report } = readWav(bytesOf(files[0]));
    expect(report).toMatchObject({ frames: 1000, format: { encoding: 's24', sampleRate: 44100, channelCount: 2 } });
    for (const file of files) expect(bytesOf(file)).toHaveLength(file.bytes);
  });

  test('files are numbered in the order of the pads where that is wanted', () => {
    const numbered = finished(bundleFiles({ name: 'Kit' }, pads, [], open, { isNumbered: true })).map(
      ({ path }) => path,
    );
    expect(numbered.slice(0, 3)).toEqual(['samples/01 Kick-one.wav', 'samples/02 Hat.wav', 'samples/03 hat.wav']);
  });

  test('level, pan, play mode and choke groups are in the SFZ file', () => {
    const sfz = new TextDecoder().decode(bytesOf(files[3]));
    const regions = sfz.split('<region>').slice(1);
    expect(regions[0]).toMatch(
      /sample=samples\/Kick-one\.wav\nkey=36\npitch_keycenter=36\nvolume=-3\npan=0\nloop_mode=one_shot\n/,
    );
    expect(regions[1]).toMatch(/pan=-50\nloop_mode=one_shot\ngroup=1\noff_by=1/);
    expect(regions[2]).toMatch(/loop_mode=no_loop/);
  });

  test('what sums over full scale is not clipped: the WAV is taken down and the SFZ says by how much, up to what it can', () => {
    for (const levelDb of [-12, 4, 20]) {
      const { pad, layers } = padOf(0, { levelDb }, [
        [0, 2000],
        [0, 2000],
      ]);
      const loud = { ...source, channels: source.channels.map((channel) => channel.map((x) => x * 1.9)) };
      const [wav, sfz] = finished(bundleFiles({ name: 'Loud' }, [{ pad, layers, steps: [] }], [], opener(loud)));
      const { audio, report } = readWav(bytesOf(wav));
      const volume = Number(/volume=(.*)/.exec(new TextDecoder().decode(bytesOf(sfz)))?.[1]);
      expect(volume).toBeLessThanOrEqual(6);
      if (report.format.encoding === 's24') expect(peakOf(audio.channels)).toBeLessThan(1);
      const heard = fromDb(levelDb) * 2 * 1.9;
      for (const i of [0, 700, 1500])
        expect((audio.channels[0]?.[i] as number) * fromDb(volume)).toBeCloseTo(
          heard * (source.channels[0]?.[i] as number),
          3,
        );
    }
    expect(levelParts(-12, 1.8, 's24')).toMatchObject({ encoding: 's24' });
    expect(levelParts(20, 1.8, 's24')).toMatchObject({ encoding: 'f32', volumeDb: 6 });
    expect(levelParts(3, 0.5, 's24')).toEqual({ encoding: 's24', volumeDb: 3, gain: 1 });
  });

  test('the SFZ file says nothing that its format does not know', () => {
    expect(() => writeSfz('K', [{ sample: 'a.wav', label: 'a', opcodes: { volume: 7 } }])).toThrow(/volume of 7/);
    expect(() => writeSfz('K', [{ sample: 'a.wav', label: 'a', opcodes: { loop_mode: 'for ever' } }])).toThrow();
  });

  test('credits say plainly what is not known and what must not be passed on', () => {
    const sheet = creditsSheet('K', [
      { title: 'A', rightsKind: 'unknown', owner: '', text: '', pads: ['x'] },
      { title: 'B', rightsKind: 'not-shared', owner: 'Someone', text: 'private\nline', pads: ['y', 'z'] },
      { title: 'C', rightsKind: 'cc0', owner: 'Us', text: '', pads: ['w'] },
    ]);
    expect(sheet).toMatch(
      /A\r\n {2}whose: {10}unknown\r\n {2}licence: {8}unknown\r\n {2}may be shared: {2}unknown - ask/,
    );
    expect(sheet).toMatch(/private line\r\n {2}may be shared: {2}NO\r\n {2}heard on: {7}y, z/);
    expect(sheet).toMatch(/CC0 1.0\r\n {2}may be shared: {2}yes/);
  });
});

test('a pad out of range is refused by its schema', () => {
  const { pad } = padOf(0);
  expect(Pad.safeParse({ ...pad, levelDb: 30 }).success).toBe(false);
  expect(Pad.safeParse({ ...pad, position: 128 }).success).toBe(false);
  expect(Pad.safeParse({ ...pad, name: 'a\u0000b' }).success).toBe(false);
});
