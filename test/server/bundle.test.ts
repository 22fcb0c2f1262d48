import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { BundleAnswer, KitDocs } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { writeMidiFile } from '../../src/core/midi/write';
import { seededRandom } from '../../src/core/signal/random';
import { PROGRAM, remove, type Server, scratch, startServer, undercroft } from '../harness';
import { Client, errorOf } from './client';

const RATE = 48_000;
const KIT = 'kit-bundle-1';
let folder: string;
let servers: [Server, Server];
let from: Client;
let to: Client;
let zip: Uint8Array;

/** A kit of everything that a description tells: takes, a loop, ranges of velocity, buses, sends, a role without a sound, two sources. */
beforeAll(async () => {
  folder = scratch();
  servers = [await startServer(join(folder, 'from.db')), await startServer(join(folder, 'to.db'))];
  from = new Client(servers[0].address);
  to = new Client(servers[1].address);
  const random = seededRandom(3);
  const recordings: string[] = [];
  for (const [i, title] of ['Weir', 'Yard'].entries()) {
    const channels = Array.from({ length: i + 1 }, () =>
      Float32Array.from({ length: RATE }, (_, f) => 1.4 * (random() - 0.5) * Math.exp(-(f % 12_000) / 2500)),
    );
    const { recordingId } = await from.import(`${title}.wav`, writeWav({ sampleRate: RATE, channels }, 's24'));
    await from.cut(recordingId);
    recordings.push(recordingId);
    const rights = { rightsKind: i === 0 ? 'own' : 'cc-by', rightsOwner: 'A. Miller', rightsText: 'With her name.' };
    await from.edit('rights', [
      { op: 'update', doc: 'recording', id: recordingId, rev: from.rev('recording', recordingId), set: rights },
    ]);
  }
  const [weir, yard] = recordings as [string, string];
  const hit = (n: number, recordingId: string) =>
    ({
      op: 'create',
      doc: 'hit',
      id: `hit-bundle-${n}`,
      value: {
        ...{ name: `Hit ${n}`, family: n === 0 ? 'kick' : null, recordingId, sliceId: null },
        ...{ startFrame: 12_000 * (n % 4), endFrame: 12_000 * ((n % 4) + 1) - 77 },
      },
    }) as const;
  const pad = (n: number, values: object) =>
    ({
      op: 'create',
      doc: 'pad',
      id: `pad-bundle-${n}`,
      value: { ...PAD_INITIAL, kitId: KIT, position: n, name: `Pad ${n}`, family: null, ...values },
    }) as const;
  let layers = 0;
  const layer = (n: number, h: number, values: object = {}) =>
    ({
      op: 'create',
      doc: 'layer',
      id: `layer-bundle-${++layers}`,
      value: { ...LAYER_INITIAL, padId: `pad-bundle-${n}`, hitId: `hit-bundle-${h}`, position: layers, ...values },
    }) as const;
  const busId = 'bus-bundle-1';
  await from.edit('a kit', [
    {
      op: 'create',
      doc: 'kit',
      id: KIT,
      value: {
        name: 'Weir & yard',
        author: 'A. Miller',
        words: ['wet'],
        about: 'Of both.',
        tempoBpm: 94,
        transpose: 2,
      },
    },
    ...[0, 1, 2, 3].map((n) => hit(n, weir)),
    ...[4, 5].map((n) => hit(n, yard)),
    {
      op: 'create',
      doc: 'bus',
      id: busId,
      value: { kitId: KIT, position: 0, name: 'Drums', kind: 'bus', levelDb: -2 },
    },
    { op: 'create', doc: 'bus', id: 'bus-bundle-2', value: { kitId: KIT, position: 1, name: 'Echo', kind: 'echo' } },
    {
      op: 'create',
      doc: 'busStep',
      id: 'bus-step-001',
      value: { busId, position: 0, processor: 'compressor', ratio: 6 },
    },
    {
      op: 'create',
      doc: 'busStep',
      id: 'bus-step-002',
      value: { busId: 'bus-bundle-2', position: 0, processor: 'echo', period: '1/8 t', mix: 1 },
    },
    pad(0, { levelDb: 9, semitones: -3, chokeGroup: 2, filter: 'low', cutoffHz: 900, busId, muted: true }),
    layer(0, 0, { levelDb: 3 }),
    layer(0, 4, { pan: -0.3 }),
    pad(1, { takeOrder: 'at random', role: 'Snare', note: 39, echoSendDb: -9 }),
    layer(1, 1),
    layer(1, 2, { isTake: true }),
    layer(1, 5, { isTake: true }),
    pad(2, { mode: 'looped', loopStartMs: 40, loopEndMs: 170, seamMs: 5, cents: 31 }),
    layer(2, 3),
    pad(40, { velocityDb: 30, moves: [{ source: 'velocity', target: 'cutoff', depth: 2 }] }),
    layer(40, 2, { highVelocity: 60 }),
    layer(40, 3, { lowVelocity: 61 }),
    pad(9, { role: 'Waiting', name: 'Waiting', mode: 'held' }),
  ]);
  zip = await exported(from, KIT);
});

afterAll(async () => {
  for (const server of servers ?? []) await server.kill();
  if (folder) remove(folder);
});

async function exported({ address }: Client, kitId: string): Promise<Uint8Array> {
  const response = await fetch(`${address}/api/kits/${kitId}/export`);
  if (!response.ok) throw new Error(await response.text());
  return new Uint8Array(await response.arrayBuffer());
}

function open({ ask }: Client, bytes: Uint8Array) {
  return ask.call(to, 'POST', '/api/kits?browser=test-browser-0001', {}, [bytes]);
}

test('a bundle opened in another workspace and exported there holds the same files, byte by byte', async () => {
  const { status, body } = await open(to, zip);
  expect(body).toMatchObject({ name: 'Weir & yard', pads: 5, known: 0 });
  expect(status).toBe(200);
  const { kitId } = body as BundleAnswer;
  const [first, second] = [unzipSync(zip), unzipSync(await exported(to, kitId))];
  expect(Object.keys(second)).toEqual(Object.keys(first));
  for (const [path, bytes] of Object.entries(first)) {
    if (path.endsWith('.wav')) expect([path, Buffer.compare(bytes, second[path] as Uint8Array)]).toEqual([path, 0]);
    else expect(strFromU8(second[path] as Uint8Array)).toBe(strFromU8(bytes));
  }
  const view = await to.get<KitDocs>(`/api/kits/${kitId}`);
  expect(view.kit).toMatchObject({ author: 'A. Miller', words: ['wet'], tempoBpm: 94, transpose: 0 });
  expect(view.buses.map(({ name, kind, levelDb }) => [name, kind, levelDb])).toEqual([
    ['Drums', 'bus', -2],
    ['Echo', 'echo', 0],
  ]);
  expect(view.pads.find(({ position }) => position === 9)).toMatchObject({ role: 'Waiting', mode: 'held' });
  // One undo takes the kit away; its recordings stay.
  await to.step('undo');
  expect(await to.get<unknown[]>('/api/kits')).toEqual([]);
  expect((await to.recordings()).length).toBeGreaterThan(5);
});

test('the command line tells what is in a bundle, and plays it as the workspace does that opened it', async () => {
  const { kitId } = (await open(to, zip)).body as BundleAnswer;
  const [file, midi, broken] = ['kit.zip', 'notes.mid', 'broken.zip'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  writeFileSync(file, zip);
  writeFileSync(broken, zip.subarray(0, 3000));
  const on = (seconds: number, note: number, velocity: number) =>
    ({ seconds, message: { kind: 'note-on', channel: 9, note, velocity } }) as const;
  const notes = [on(0, 36, 90), on(0.2, 39, 120), on(0.4, 39, 50), on(0.7, 39, 100), on(0.9, 43, 30)];
  writeFileSync(midi, writeMidiFile(notes, 94));
  const told = spawnSync(PROGRAM, ['bundle', '--check', '--json', file, broken], { encoding: 'utf8' });
  const [whole, part] = told.stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line)) as [object, { error: string }];
  expect(whole).toMatchObject({ error: null, name: 'Weir & yard', author: 'A. Miller', pads: 5, buses: 2, samples: 6 });
  expect(part.error).toMatch(/no zip that can be read/);
  expect(told.status).toBe(1);
  const outs = [[file], [kitId, '--workspace', servers[1].workspace]].map(([kit, ...more], i) => {
    const out = join(folder, `out-${i}.wav`);
    undercroft('play', kit as string, '--midi', midi, '--out', out, ...more);
    return readFileSync(out);
  }) as [Buffer, Buffer];
  expect(outs[0].length).toBeGreaterThan(100_000);
  expect(Buffer.compare(...outs)).toBe(0);
  await to.step('undo');
});

test('opened a second time it is a kit beside the first, of the recordings that are there', async () => {
  const before = (await to.recordings()).length;
  const { body } = await open(to, zip);
  expect(body).toMatchObject({ pads: 5, known: before });
  const again = await open(to, zip);
  expect(again.body).toMatchObject({ name: 'Weir & yard 2' });
  expect((await to.recordings()).length).toBe(before);
});

test('a bundle that is none, or is broken, gets a word of what is wrong, and nothing is kept of it', async () => {
  const before = [(await to.recordings()).length, (await to.get<unknown[]>('/api/kits')).length];
  const files = unzipSync(zip);
  const description = Object.keys(files).find((path) => path === 'Weir & yard.json') as string;
  const value = JSON.parse(strFromU8(files[description] as Uint8Array)) as { pads: Record<string, unknown>[] };
  const told = (change: (pads: Record<string, unknown>[]) => void, more: Record<string, Uint8Array> = {}) => {
    const copy = structuredClone(value);
    change(copy.pads);
    return zipSync({ ...files, ...more, [description]: strToU8(JSON.stringify(copy)) }, { level: 0 });
  };
  const sampleOf = (path: string) => [{ sample: path, lowVelocity: 1, highVelocity: 127, loop: null }];
  const { [description]: _left, ...others } = files;
  const cases: [Uint8Array, RegExp][] = [
    [strToU8('no zip'), /This is no zip that can be read/],
    [zipSync(others, { level: 0 }), /no description of a kit/],
    [zipSync({ ...files, 'another.json': strToU8('{}') }, { level: 0 }), /2 descriptions in the zip/],
    [zipSync({ ...files, [description]: strToU8('{') }, { level: 0 }), /is no JSON/],
    [
      zipSync({ ...files, [description]: strToU8('{"version":7}') }, { level: 0 }),
      /of version 7; this application reads version 2/,
    ],
    [told((pads) => Object.assign(pads[0] as object, { note: 400 })), /pads\.0\.note/],
    [told((pads) => Object.assign(pads[0] as object, { settings: { levelDb: 99 } })), /pads\.0\.settings\.levelDb/],
    [told((pads) => Object.assign(pads[1] as object, { position: 0 })), /Two pads lie at place 0/],
    [
      told((pads) => Object.assign(pads[0] as object, { zones: sampleOf('samples/../../etc.wav') })),
      /A sample is named/,
    ],
    [told((pads) => Object.assign(pads[0] as object, { zones: sampleOf('/etc/passwd') })), /A sample is named/],
    [
      told((pads) => Object.assign(pads[0] as object, { zones: sampleOf('samples/gone.wav') })),
      /which is not in the bundle/,
    ],
    [
      told((pads) => Object.assign(pads[0] as object, { zones: sampleOf('samples/x.wav') }), {
        'samples/x.wav': strToU8('RIFF'),
      }),
      /The sample samples\/x\.wav cannot be read/,
    ],
    [told((pads) => Object.assign(pads[0] as object, { bus: 5 })), /plays on bus 5/],
  ];
  for (const [bytes, said] of cases) {
    const { status, body } = await open(to, bytes);
    expect(errorOf(body).message).toMatch(said);
    expect(status).toBe(409);
  }
  expect([(await to.recordings()).length, (await to.get<unknown[]>('/api/kits')).length]).toEqual(before);
});
