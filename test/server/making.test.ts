import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ServerEvent } from '../../src/contract/edits';
import type { HitView } from '../../src/contract/views';
import { readWav, wavHeader, writeWav } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import type { BundleFile } from '../../src/core/kit/bundle';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { seededRandom } from '../../src/core/signal/random';
import { ZipOfFiles } from '../../src/server/exporting/zip';
import { soon } from '../harness';
import { errorOf } from './client';
import { served } from './served';

const at = served();

/** A kit of one pad that plays all of a recording. */
async function kitOf(
  name: string,
  recordingId: string,
  endFrame: number,
  pad: Record<string, unknown> = {},
): Promise<string> {
  const id = `kit-of-${name}`;
  await at.client.edit(name, [
    {
      op: 'create',
      doc: 'hit',
      id: `hit-of-${name}`,
      value: { ...HIT_INITIAL, name, family: null, recordingId, startFrame: 0, endFrame, sliceId: null },
    },
    { op: 'create', doc: 'kit', id, value: { name } },
    {
      op: 'create',
      doc: 'pad',
      id: `pad-of-${name}`,
      value: { ...PAD_INITIAL, fadeOutMs: 0, kitId: id, position: 0, name, family: null, ...pad },
    },
    {
      op: 'create',
      doc: 'layer',
      id: `layer-of-${name}`,
      value: { ...LAYER_INITIAL, padId: `pad-of-${name}`, hitId: `hit-of-${name}`, position: 0 },
    },
  ]);
  return id;
}

/** Resident memory of the server in bytes, and the most it ever was. */
const memory = (field: 'VmRSS' | 'VmHWM') =>
  1024 * Number(new RegExp(`${field}:\\s+(\\d+)`).exec(readFileSync(`/proc/${at.server.pid}/status`, 'utf8'))?.[1]);

describe('a kit with a sound of twelve minutes', () => {
  const rate = 44100;
  const frames = 12 * 60 * rate;
  let kitId: string;

  beforeAll(async () => {
    async function* pieces() {
      yield wavHeader({ encoding: 's16', sampleRate: rate, channelCount: 2 }, frames);
      const piece = new Uint8Array(1 << 20);
      for (let at = 0; at < frames * 4; at += piece.length) {
        piece.fill(1 + (at >> 20));
        yield piece.subarray(0, Math.min(piece.length, frames * 4 - at));
      }
    }
    const { body } = await at.client.stream('/api/recordings?name=long.wav', pieces());
    const { recordingId } = body as { recordingId: string };
    await at.client.cut(recordingId);
    kitId = await kitOf('long', recordingId, frames, { normaliseDbfs: -1 });
  });

  test('is exported piece by piece: memory stays small, edits and pages are not held up, the length is told before', async () => {
    const before = memory('VmRSS');
    const answer = await fetch(`${at.server.address}/api/kits/${kitId}/export?for=self`);
    const times: number[] = [];
    let over = false;
    const editing = (async () => {
      for (let n = 0; !over; n++) {
        const begun = performance.now();
        await at.client.edit(`edit ${n}`, [
          { op: 'create', doc: 'kit', id: `kit-beside-${n}`, value: { name: `Beside ${n}` } },
        ]);
        times.push(performance.now() - begun);
      }
    })();
    let bytes = 0;
    for await (const piece of answer.body as unknown as AsyncIterable<Uint8Array>) bytes += piece.length;
    over = true;
    await editing;
    expect(bytes).toBe(Number(answer.headers.get('content-length')));
    expect(bytes).toBeGreaterThan(frames * 6);
    times.sort((a, b) => a - b);
    expect(times.at(Math.floor(times.length * 0.95))).toBeLessThan(100);
    expect(memory('VmHWM') - before).toBeLessThan(150e6);
  });

  test('an export that is cancelled stops', async () => {
    const abort = new AbortController();
    const answer = await fetch(`${at.server.address}/api/kits/${kitId}/export?for=self`, { signal: abort.signal });
    await answer.body?.getReader().read();
    abort.abort();
    // Nothing of it holds the next one up.
    const head = await fetch(`${at.server.address}/api/kits/${kitId}/export?for=self`, { method: 'HEAD' });
    expect([head.status, Number(head.headers.get('content-length')) > frames * 6]).toEqual([200, true]);
  });
});

test('a zip that would pass what a zip can hold is refused before its first byte', () => {
  const file: BundleFile = { path: 'samples/endless.wav', bytes: 12e9, pieces: () => [] };
  expect(() => new ZipOfFiles([file])).toThrow(
    /would be a zip of 12\.0 GB; a zip holds up to 4\.2 GB\. The longest sound is samples\/endless\.wav with 12\.0 GB/,
  );
});

test.each([
  ['before 1980', Date.UTC(1970, 0, 1), '1980'],
  ['after 2099', Date.UTC(2150, 5, 1), '2099'],
])('a clock %s breaks no zip; unzip reads it and its length is as told', (_, now, year) => {
  const text = new TextEncoder().encode('Millstone');
  const files = ['samples/a.wav', 'Müller 💥.sfz'].map(
    (path): BundleFile => ({ path, bytes: text.length, pieces: () => [text] }),
  );
  const zip = new ZipOfFiles(files, now);
  const pieces: Uint8Array[] = [];
  for (let step = zip.next(); ; step = zip.next()) {
    pieces.push(step.bytes);
    if (step.last) break;
  }
  const whole = Buffer.concat(pieces);
  expect(whole).toHaveLength(zip.bytes);
  const path = join(at.folder, `${year}.zip`);
  writeFileSync(path, whole);
  expect(execFileSync('python3', ['-m', 'zipfile', '-l', path], { encoding: 'utf8' })).toContain(`${year}-`);
});

test('two hundred hits are prepared as one edit while others edit; left in the middle, nothing is changed', async () => {
  const random = seededRandom(3);
  const samples = Float32Array.from({ length: 44100 * 60 }, () => random() - 0.5);
  const { recordingId } = await at.client.import(
    'many.wav',
    writeWav({ sampleRate: 44100, channels: [samples] }, 's16'),
  );
  const ids = Array.from({ length: 200 }, (_, i) => `hit-many-${String(i).padStart(4, '0')}`);
  await at.client.edit(
    'many hits',
    ids.map((id, i) => ({
      op: 'create',
      doc: 'hit',
      id,
      value: {
        ...HIT_INITIAL,
        name: id,
        family: null,
        recordingId,
        startFrame: i * 9000,
        endFrame: (i + 1) * 9000,
        sliceId: null,
      },
    })),
  );
  const request = { browser: 'test-browser-0001', tab: 'tab-of-the-test', ids, ticks: ['ends', 'loudness', 'root'] };
  const told: number[] = [];
  const stream = await fetch(`${at.server.address}/api/events`);
  const reader = (stream.body as ReadableStream<Uint8Array>).getReader();
  const hearing = (async () => {
    for (let step = await reader.read(); !step.done; step = await reader.read())
      for (const line of new TextDecoder().decode(step.value).split('\n\n')) {
        const event = line.startsWith('data: ') ? (JSON.parse(line.slice(6)) as ServerEvent) : null;
        if (event?.type === 'preparing') told.push(event.share);
      }
  })();
  const gains = async () =>
    (await at.client.get<HitView[]>('/api/hits')).filter((h) => ids.includes(h.id) && h.steps.length > 0).length;
  const abort = new AbortController();
  const left = fetch(`${at.server.address}/api/hits/prepare`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(request),
    signal: abort.signal,
  });
  await soon(() => expect(told.length).toBeGreaterThan(3));
  abort.abort();
  await expect(left).rejects.toThrow(/abort/i);
  expect(await gains()).toBe(0);
  const answer = await at.client.post('/api/hits/prepare', request);
  expect(answer.status).toBe(200);
  expect(await gains()).toBe(200);
  await at.client.step('undo');
  expect(await gains()).toBe(0);
  await reader.cancel();
  await hearing;
});

test('floats that stand far off become a hit all the same, its offset taken off', async () => {
  const samples = Float32Array.from({ length: 8000 }, (_, i) => 1.5 + 0.2 * Math.sin(i / 5) * Math.exp(-i / 900));
  const name = encodeURIComponent('off.wav');
  const wav = writeWav({ sampleRate: 44100, channels: [samples] }, 'f32');
  const { body } = await at.client.ask('POST', `/api/recordings?name=${name}&as=hit&prepare=dc,peak`, {}, [wav]);
  const { recordingId } = body as { recordingId: string };
  await at.client.cut(recordingId);
  const hits = await at.client.get<HitView[]>('/api/hits');
  expect(hits.find((h) => h.recordingId === recordingId)?.steps).toMatchObject([
    { processor: 'dc', offset1: expect.closeTo(1.5, 1) },
    { processor: 'level', to: 'peak' },
  ]);
  expect(readWav(wav).report.frames).toBe(8000);
});

test('an empty hit is refused in words', async () => {
  const [recording] = await at.client.recordings();
  const value = {
    ...HIT_INITIAL,
    name: 'None',
    family: null,
    recordingId: recording?.id,
    startFrame: 5,
    endFrame: 5,
    sliceId: null,
  };
  const answer = await at.client.post('/api/edits', {
    browser: 'test-browser-0001',
    label: 'an empty hit',
    changes: [{ op: 'create', doc: 'hit', id: 'hit-empty-01', value }],
  });
  expect([answer.status, errorOf(answer.body).message]).toEqual([
    400,
    'A hit ends after it starts; it would run from 5 to 5.',
  ]);
});
