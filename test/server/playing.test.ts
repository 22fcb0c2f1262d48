import { execFileSync, spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav, writeWav } from '../../src/core/format/wav';
import { writeMidiFile } from '../../src/core/midi/write';
import { seededRandom } from '../../src/core/signal/random';
import { remove, type Server, scratch, startServer } from '../harness';
import { readSfz } from '../sfz-reader';
import { Client } from './client';

const RATE = 48_000;
let folder: string;
let server: Server;
let client: Client;

/** A kit of three pads: a looped one that is filtered and moved, one with takes, and one that chokes it. */
beforeAll(async () => {
  folder = scratch();
  server = await startServer(join(folder, 'workspace.db'));
  client = new Client(server.address);
  const random = seededRandom(12);
  const samples = Float32Array.from({ length: RATE }, (_, i) => (random() - 0.5) * Math.exp(-(i % 12_000) / 3000));
  const { recordingId } = await client.import('Weir.wav', writeWav({ sampleRate: RATE, channels: [samples] }, 's24'));
  await client.cut(recordingId);
  const hit = (n: number) =>
    ({
      op: 'create',
      doc: 'hit',
      id: `hit-play-${n}`,
      value: {
        name: `Weir ${n}`,
        family: null,
        recordingId,
        sliceId: null,
        startFrame: 12_000 * n,
        endFrame: 12_000 * (n + 1),
      },
    }) as const;
  const pad = (n: number, values: object) =>
    ({
      op: 'create',
      doc: 'pad',
      id: `pad-play-${n}`,
      value: { kitId: 'kit-play-1', position: n, name: `Pad ${n}`, family: null, ...values },
    }) as const;
  const layer = (id: string, n: number, h: number, values: object = {}) =>
    ({
      op: 'create',
      doc: 'layer',
      id,
      value: { padId: `pad-play-${n}`, hitId: `hit-play-${h}`, position: h, ...values },
    }) as const;
  await client.edit('a kit to be played', [
    { op: 'create', doc: 'kit', id: 'kit-play-1', value: { name: 'Weir', tempoBpm: 94, limiter: false } },
    ...[0, 1, 2, 3].map(hit),
    pad(0, {
      ...{
        note: 36,
        mode: 'looped',
        chokeGroup: 1,
        chokeMs: 20,
        filter: 'low',
        slope: 24,
        cutoffHz: 900,
        resonance: 2,
      },
      ...{
        filterOctaves: 2,
        filterDecayMs: 120,
        levelAttackMs: 3,
        levelDecayMs: 300,
        levelSustain: 0.4,
        lfo1Period: '1/8',
      },
      ...{ pitchSemitones: 7, pitchDecayMs: 60, loopStartMs: 40, loopEndMs: 200, seamMs: 10 },
      moves: [
        { source: 'lfo1', target: 'tune', depth: 20 },
        { source: 'lfo2', target: 'pan', depth: 0.5 },
        { source: 'velocity', target: 'cutoff', depth: 1 },
        { source: 'wheel', target: 'level', depth: 6 },
        { source: 'chance', target: 'start', depth: 5 },
      ],
    }),
    layer('layer-play-0', 0, 0),
    pad(1, { note: 38, takeOrder: 'in order', voices: 1 }),
    layer('layer-play-1', 1, 1, { isTake: true, highVelocity: 80 }),
    layer('layer-play-2', 1, 2, { isTake: true, lowVelocity: 81 }),
    layer('layer-play-3', 1, 3, { isTake: true, lowVelocity: 81 }),
    pad(2, { note: 42, chokeGroup: 1, reversed: true }),
    layer('layer-play-4', 2, 3),
  ]);
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const undercroft = (...args: string[]) =>
  JSON.parse(
    execFileSync(join(process.cwd(), 'bin/undercroft'), [...args, '--workspace', server.workspace, '--json'], {
      encoding: 'utf8',
    }),
  );

test('a kit is played by a MIDI file: notes begin at their ticks, stems add up to the whole, and twice is the same', () => {
  const on = (seconds: number, note: number, velocity: number) =>
    ({ seconds, message: { kind: 'note-on', channel: 9, note, velocity } }) as const;
  const off = (seconds: number, note: number) =>
    ({ seconds, message: { kind: 'note-off', channel: 9, note, velocity: 0 } }) as const;
  const times = [0.25, 1.25, 1.5, 2];
  const messages = [
    on(0.25, 36, 100),
    off(0.9, 36),
    on(1.25, 38, 120),
    on(1.5, 38, 40),
    on(2, 42, 127),
    on(2.1, 99, 127),
  ];
  const midi = join(folder, 'notes.mid');
  writeFileSync(midi, writeMidiFile(messages, 94));
  const [out, again, stems] = ['out.wav', 'again.wav', 'stems'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  const report = undercroft('play', 'weir', '--midi', midi, '--out', out, '--stems', stems, '--encoding', 'f32');
  expect(report).toMatchObject({ strokes: 5, out });
  undercroft('play', 'kit-play-1', '--midi', midi, '--out', again, '--encoding', 'f32');
  expect(readFileSync(again).equals(readFileSync(out))).toBe(true);
  const whole = readWav(readFileSync(out)).audio;
  const left = whole.channels[0] as Float32Array;
  for (const seconds of times) {
    const at = Math.round(seconds * RATE);
    // Within the tick, which is half a millisecond here, the note is there, and it rose from what was before.
    const loud = (from: number) => left.subarray(from, from + 240).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(loud(at + 48)).toBeGreaterThan(0.005);
    expect(loud(at - 300)).toBeLessThan(0.02);
  }
  const parts = readdirSync(stems).map(
    (name) => readWav(readFileSync(join(stems, name))).audio.channels[0] as Float32Array,
  );
  expect(parts).toHaveLength(3);
  for (let i = 0; i < left.length; i++) {
    const sum = parts.reduce((total, part) => total + (part[i] ?? 0), 0);
    if (Math.abs(sum - (left[i] as number)) > 1e-6)
      throw new Error(
        `Stems differ from the whole at frame ${i} of ${left.length}: ${sum}, ${left[i]}; ${parts.map((p) => [p.length, p[i]].join(':'))}`,
      );
  }
});

test('a kit that is not there, and a file that is none, are told in words', () => {
  const refused = (...args: string[]) =>
    spawnSync(join(process.cwd(), 'bin/undercroft'), [...args, '--workspace', server.workspace], { encoding: 'utf8' });
  const nothing = join(folder, 'nothing.mid');
  writeFileSync(nothing, 'no music');
  const midi = refused('play', 'weir', '--midi', nothing, '--out', join(folder, 'x.wav'));
  expect([midi.status, midi.stderr]).toEqual([1, expect.stringMatching(/no Standard MIDI File/)]);
  const kit = refused('play', 'Mill', '--midi', join(folder, 'notes.mid'), '--out', join(folder, 'x.wav'));
  expect([kit.status, kit.stderr]).toEqual([1, expect.stringMatching(/no kit "Mill".*"Weir"/)]);
});

test('the bundle carries all of it: opcodes within their ranges, takes with their turns, and words on what is left out', async () => {
  const answer = await fetch(`${server.address}/api/kits/kit-play-1/export?for=self`);
  const zip = join(folder, 'weir.zip');
  writeFileSync(zip, new Uint8Array(await answer.arrayBuffer()));
  const out = join(folder, 'weir');
  execFileSync('unzip', ['-q', zip, '-d', out]);
  const { regions, faults } = readSfz(readFileSync(join(out, 'Weir.sfz'), 'utf8'), out);
  expect(faults).toEqual([]);
  const of = (key: number) => regions.filter((region) => region.key === key);
  expect(of(36)[0]).toMatchObject({
    ...{ loop_mode: 'loop_continuous', group: 1, off_by: 1, off_mode: 'time', off_time: 0.02 },
    ...{ fil_type: 'lpf_4p', cutoff: 900, fileg_depth: 2400, fileg_decay: 0.12, fil_veltrack: 1200, gain_cc1: 6 },
    ...{ ampeg_attack: 0.003, ampeg_decay: 0.3, ampeg_sustain: 40, ampeg_release: 0.05, pitcheg_depth: 700 },
    ...{ pitchlfo_depth: 20, lfo2_pan: 50, lfo2_wave: 1, amp_random: 0.3, pitch_random: 4 },
  });
  // An eighth at 94 BPM.
  expect(of(36)[0]?.pitchlfo_freq).toBeCloseTo(94 / 30, 4);
  expect(of(36)[0]?.amp_veltrack).toBeCloseTo((100 * 18) / (40 * Math.log10(127)), 4);
  const {
    loop_start: from,
    loop_end: to,
    sample,
  } = of(36)[0] as unknown as { loop_start: number; loop_end: number; sample: string };
  expect([from, to]).toEqual([0.04 * RATE, 0.2 * RATE - 1]);
  const { channels } = readWav(readFileSync(join(out, sample))).audio;
  expect(channels[0]).toHaveLength(to + 1);
  // The seam is in the file: its last frame leads to the first of the loop.
  const frames = channels[0] as Float32Array;
  expect(of(38).map((r) => [r.lovel, r.hivel, r.seq_length, r.seq_position])).toEqual([
    [1, 80, undefined, undefined],
    [81, 127, 2, 1],
    [81, 127, 2, 2],
  ]);
  expect(of(38)[0]?.note_polyphony).toBe(1);
  expect(frames.length).toBe(to + 1);
  const credits = readFileSync(join(out, 'credits.txt'), 'utf8');
  expect(credits).toMatch(/cannot say of Pad 0: chance moving start offset/);
  expect(credits).toMatch(/opcodes of version 2: fil_type=lpf_4p, lfo2_freq/);
});

test('a pad whose strokes go through steps, and a loop in tempo, are exported as they sound; words say what that costs', async () => {
  const own = { kitId: 'kit-play-2', family: null };
  const layer = (n: number, hit: number, values: object = {}) =>
    ({
      op: 'create',
      doc: 'layer',
      id: `layer-step-${n}`,
      value: { padId: `pad-step-${n}`, hitId: `hit-play-${hit}`, position: 0, ...values },
    }) as const;
  await client.edit('a kit with steps', [
    { op: 'create', doc: 'kit', id: 'kit-play-2', value: { name: 'Sluice gate', tempoBpm: 120, limiter: false } },
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-step-0',
      value: { ...own, position: 0, name: 'Hall', levelDb: -6, note: 36 },
    },
    layer(0, 0),
    {
      op: 'create',
      doc: 'padStep',
      id: 'step-room-1',
      value: { padId: 'pad-step-0', position: 1, processor: 'room', decayS: 1, mix: 0.5 },
    },
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-step-1',
      // A quarter second that is a beat at 240 BPM: half a second at 120.
      value: { ...own, position: 1, name: 'Wheel', note: 38, fit: 'slices', loopBpm: 240, cuts: [{ atMs: 100 }] },
    },
    layer(1, 1),
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-step-2',
      value: {
        ...own,
        position: 2,
        name: 'Race',
        note: 40,
        fit: 'stretched',
        loopBpm: 240,
        mode: 'looped',
        muted: true,
      },
    },
    layer(2, 2),
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-step-3',
      value: { ...own, position: 3, name: 'Mill', note: 44, mode: 'switched' },
    },
    layer(3, 3),
  ]);
  const answer = await fetch(`${server.address}/api/kits/kit-play-2/export?for=self`);
  const zip = join(folder, 'gate.zip');
  writeFileSync(zip, new Uint8Array(await answer.arrayBuffer()));
  const out = join(folder, 'gate');
  execFileSync('unzip', ['-q', zip, '-d', out]);
  const { regions, faults } = readSfz(readFileSync(join(out, 'Sluice gate.sfz'), 'utf8'), out);
  expect(faults).toEqual([]);
  const wav = (name: string) => readWav(readFileSync(join(out, 'samples', `${name}.wav`))).audio;
  const seconds = (name: string) => (wav(name).channels[0]?.length ?? 0) / RATE;
  // The room rings on for its decay, on both sides; its level is in the file.
  expect(wav('Hall').channels).toHaveLength(2);
  expect(seconds('Hall')).toBeGreaterThan(0.7);
  expect(regions.find(({ key }) => key === 36)).toMatchObject({ loop_mode: 'one_shot', volume: 0 });
  const first = wav('Hall').channels[0]?.[0] as number;
  const source = wav('Wheel');
  expect(Math.abs(first)).toBeLessThan(0.5);
  // The second slice lies where the tempo has it: 200 ms after the first.
  const slices = source.channels[0] as Float32Array;
  const highest = (from: number, to: number) =>
    slices.subarray(from * RATE, to * RATE).reduce((m, x) => Math.max(m, Math.abs(x)), 0);
  expect(highest(0.105, 0.199)).toBe(0);
  expect(highest(0.2, 0.21)).toBeGreaterThan(0);
  // It is muted while one works on the kit; what leaves the kit sounds.
  expect(seconds('Race')).toBeGreaterThan(0.4);
  expect(seconds('Race')).toBeLessThanOrEqual(0.56);
  const credits = readFileSync(join(out, 'credits.txt'), 'utf8');
  expect(credits).toMatch(/cannot say of Hall: steps that hear all strokes together/);
  expect(credits).toMatch(
    /cannot say of Race: a loop that follows the tempo: it is printed at that of the kit; how long/,
  );
  // Played by a MIDI file the tail rings out, and a stem is the whole where only one pad is played.
  const midi = join(folder, 'hall.mid');
  writeFileSync(
    midi,
    writeMidiFile([
      { seconds: 0, message: { kind: 'note-on', channel: 9, note: 36, velocity: 127 } },
      { seconds: 0.1, message: { kind: 'note-off', channel: 9, note: 36, velocity: 64 } },
    ]),
  );
  const [whole, stems] = ['hall.wav', 'hall-stems'].map((name) => join(folder, name)) as [string, string];
  undercroft('play', 'Sluice gate', '--midi', midi, '--out', whole, '--stems', stems, '--encoding', 'f32');
  const heard = readWav(readFileSync(whole)).audio.channels[0] as Float32Array;
  expect(heard.length / RATE).toBeGreaterThan(1);
  expect(readWav(readFileSync(join(stems, 'Hall.wav'))).audio.channels[0]).toEqual(heard);
});

test('a loop that no note ends is cut off a minute after the last, in words', () => {
  const midi = join(folder, 'endless.mid');
  writeFileSync(
    midi,
    writeMidiFile([
      { seconds: 0, message: { kind: 'note-on', channel: 9, note: 44, velocity: 100 } },
      { seconds: 0.1, message: { kind: 'note-off', channel: 9, note: 44, velocity: 64 } },
    ]),
  );
  const args = ['play', 'Sluice gate', '--midi', midi, '--out', join(folder, 'endless.wav'), '--workspace'];
  const { stderr, stdout } = spawnSync(join(process.cwd(), 'bin/undercroft'), [...args, server.workspace, '--json'], {
    encoding: 'utf8',
  });
  expect(stderr).toMatch(/A loop goes on after the last note/);
  expect(JSON.parse(stdout).seconds).toBeGreaterThan(60);
});

test('steps of a pad are refused where there are too many, where they cannot run live, and beyond their ranges', async () => {
  const step = (n: number, values: object) =>
    client.post('/api/edits', {
      browser: 'browser-of-steps',
      label: 'a step',
      changes: [
        {
          op: 'create',
          doc: 'padStep',
          id: `step-more-${n}`,
          value: { padId: 'pad-play-2', position: n, processor: 'compressor', ...values },
        },
      ],
    });
  for (let n = 0; n < 6; n++) expect((await step(n, {})).status).toBe(200);
  expect(JSON.stringify((await step(6, {})).body)).toMatch(/up to 6 steps/);
  await client.edit('take them off', [{ op: 'remove', doc: 'padStep', id: 'step-more-0', rev: 1 }]);
  expect((await step(7, { processor: 'reverse' })).status).toBe(400);
  expect((await step(9, { ratio: 100 })).status).toBe(400);
  expect((await step(10, { mix: 0.5 })).status).toBe(200);
});
