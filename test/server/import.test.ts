import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { ImportAnswer } from '../../src/contract/views';
import { wavHeader, writeWav } from '../../src/core/format/wav';
import { checkWorkspace } from '../../src/server/checking/check';
import { openWorkspace } from '../../src/server/db/open';
import { commitEdit } from '../../src/server/history/commit';
import { Intake, importBytes } from '../../src/server/importing/intake';
import { plainImport } from '../../src/server/importing/options';
import { soon, undercroft } from '../harness';
import { errorOf } from './client';
import { served } from './served';

const at = served();

/** A short sound unlike any other: the same audio twice would be taken for one. */
function sound(seed: number, frames = 4000): Uint8Array<ArrayBuffer> {
  const samples = Float32Array.from(
    { length: frames },
    (_, i) => Math.sin(i * (0.05 + seed / 97)) * Math.exp(-i / 900),
  );
  return writeWav({ sampleRate: 44100, channels: [samples] }, 's16');
}

const ascii = (text: string) => new TextEncoder().encode(text);

/** Sends a body piece by piece; `abort` ends it in the middle as a closed tab would. */
async function stream(name: string, pieces: Iterable<Uint8Array>, abort?: AbortSignal): Promise<ImportAnswer> {
  const iterator = pieces[Symbol.iterator]();
  const body = new ReadableStream<Uint8Array>({
    pull(controller) {
      const next = iterator.next();
      if (next.done) controller.close();
      else controller.enqueue(next.value);
    },
  });
  const request = { method: 'POST', body, duplex: 'half', signal: abort ?? null } as RequestInit;
  const answer = await fetch(`${at.server.address}/api/recordings?name=${name}`, request);
  if (!answer.ok) throw new Error(errorOf(await answer.json()).message);
  return (await answer.json()) as ImportAnswer;
}

describe('what cannot be read says why, and nothing of it stays', () => {
  const file = (edit: (bytes: Uint8Array, view: DataView) => void) => {
    const bytes = sound(1);
    edit(bytes, new DataView(bytes.buffer));
    return bytes;
  };
  test.each<[string, Uint8Array, number, RegExp]>([
    ['empty', new Uint8Array(0), 415, /The file is empty \(0 bytes\)/],
    [
      'text under a WAV name',
      ascii('Dear all, this is no sound.'),
      415,
      /^text under a WAV name\.wav: This is not a sound file that can be read/,
    ],
    [
      'half a FLAC file under a WAV name',
      ascii('fLaC\0\0\0\x22 and so on'),
      422,
      /FLAC file ends before its STREAMINFO/,
    ],
    ['a picture', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, ...new Uint8Array(30)), 415, /looks like a picture/],
    ['compressed', file((_, v) => v.setUint16(20, 2, true)), 415, /compressed \(Microsoft ADPCM\)\. Save it as/],
    ['no channels', file((_, v) => v.setUint16(22, 0, true)), 422, /0 channels; 1 to 8/],
    ['4 GHz', file((_, v) => v.setUint32(24, 4e9, true)), 415, /4000000000 Hz; 8,000 to 192,000/],
    [
      'a header and no samples',
      wavHeader({ encoding: 's16', sampleRate: 44100, channelCount: 2 }, 0),
      422,
      /no samples|no sound|holds no/i,
    ],
  ])('%s', async (name, bytes, status, message) => {
    const answer = await at.client.importBytes(`${name}.wav`, bytes);
    expect(errorOf(answer.body).message).toMatch(message);
    expect(answer.status).toBe(status);
    expect(await at.client.recordings()).toHaveLength(0);
  });
});

describe('what can be read is, and what was wrong is told', () => {
  test('a header that promises more than there is', async () => {
    const bytes = sound(2);
    new DataView(bytes.buffer).setUint32(40, 1_000_000, true);
    expect((await at.client.import('long promise.wav', bytes)).warnings.join()).toMatch(
      /cut short|ends before|promises/i,
    );
  });

  test('samples that are not numbers', async () => {
    const samples = new Float32Array(1000).map((_, i) =>
      i === 10 ? Number.NaN : i === 20 ? Number.POSITIVE_INFINITY : 0.1,
    );
    const answer = await at.client.import('nan.wav', writeWav({ sampleRate: 48000, channels: [samples] }, 'f32'));
    expect(answer.warnings.join()).toMatch(/2 samples are not numbers/);
  });

  test.each([
    ['../../etc/passwd.wav', 'passwd'],
    ['C:\\loops\\kick "one" / two.wav', 'two'],
    ['line\nbreak\u0000 and\u0007 bell.wav', 'line break and bell'],
    ["it's <b>bold</b>.wav", 'b>'],
    [`${'x'.repeat(300)}.wav`, 'x'.repeat(120)],
    ['.wav', 'Untitled recording'],
  ])('a name such as %j', async (name, title) => {
    const answer = await at.client.import(name, sound(10 + name.length + name.charCodeAt(0) / 7));
    expect(answer.title).toBe(title);
  });

  test('the same audio twice, under another name, is known', async () => {
    const first = await at.client.import('once.wav', sound(77));
    const again = await at.client.import('twice.wav', sound(77));
    expect(again).toMatchObject({ duplicate: true, recordingId: first.recordingId, title: 'once' });
    // Other chunks in the file do not make other audio.
    const tagged = join(at.folder, 'tagged.wav');
    execFileSync('sox', ['-t', 'wav', '-', '--comment', 'a remark', tagged], { input: sound(77) });
    expect(await at.client.import('tagged.wav', readFileSync(tagged))).toMatchObject({ duplicate: true });
  });
});

test('twelve hours come in as a stream, and their last second can be read', async () => {
  const frames = 12 * 3600 * 8000;
  function* pieces() {
    yield wavHeader({ encoding: 'u8', sampleRate: 8000, channelCount: 1 }, frames);
    const piece = new Uint8Array(1 << 20).map((_, i) => 128 + ((i >> 7) % 5));
    for (let at = 0; at < frames; at += piece.length) yield piece.subarray(0, Math.min(piece.length, frames - at));
  }
  const { recordingId } = await stream('half-a-day.wav', pieces());
  const recording = (await at.client.recordings()).find((r) => r.id === recordingId);
  expect(recording?.frames).toBe(frames);
  const last = await fetch(`${at.server.address}/api/recordings/${recordingId}/pcm?start=${frames - 8000}&frames=8000`);
  const bytes = new Uint8Array(await last.arrayBuffer());
  const start = (frames - 8000) % (1 << 20);
  expect(bytes).toEqual(new Uint8Array(8000).map((_, i) => 128 + (((start + i) >> 7) % 5)));
});

test('an upload broken off leaves nothing, and the next goes on as if it had not been', async () => {
  const before = (await at.client.recordings()).length;
  const abort = new AbortController();
  function* pieces() {
    yield wavHeader({ encoding: 's16', sampleRate: 48000, channelCount: 2 }, 1e8);
    for (let i = 0; i < 400; i++) {
      if (i === 40) abort.abort();
      yield new Uint8Array(1 << 18).fill(i);
    }
  }
  await expect(stream('broken-off.wav', pieces(), abort.signal)).rejects.toThrow(/abort/i);
  await at.client.import('after.wav', sound(501));
  const db = new Database(at.server.workspace, { readonly: true });
  // The importing thread clears up in its own time, after the request has gone.
  const arriving = db.prepare("SELECT count(*) AS n FROM recording WHERE state = 'arriving'");
  await soon(() => expect(arriving.get()).toEqual({ n: 0 }));
  const stray = 'SELECT count(*) AS n FROM pcm_block WHERE recording_id NOT IN (SELECT id FROM recording)';
  expect(db.prepare(stray).get()).toEqual({ n: 0 });
  db.close();
  expect(await at.client.recordings()).toHaveLength(before + 1);
  expect(undercroft('check', '--workspace', at.server.workspace)).toMatch(/all sound/);
});

describe('a full disk', () => {
  // SQLite's own page limit stands for the disk's end: it fails writes with the same SQLITE_FULL.
  test('in the middle of an import: a clear message, and the workspace as it was', async () => {
    const db = openWorkspace(join(at.folder, 'full.db'));
    await importBytes(db, plainImport('kept.wav'), sound(900));
    const pages = db.pragma('page_count', { simple: true }) as number;
    db.pragma(`max_page_count = ${pages + 40}`);
    const writer = new Intake(db, randomUUID(), plainImport('large.wav'), null);
    const write = () => {
      writer.write(wavHeader({ encoding: 's16', sampleRate: 48000, channelCount: 2 }, 4e6));
      for (let i = 0; i < 64; i++) writer.write(new Uint8Array(1 << 18).fill(i));
    };
    expect(write).toThrow('The disk is full. What had arrived of this file was removed; all else is as it was.');
    const change = { op: 'create', doc: 'kit', id: 'kit-large-001', value: { name: 'x' } } as const;
    commitEdit(db, { browser: 'test-browser-0001', label: 'still works', changes: [change] });
    const { faults, counts } = checkWorkspace(db);
    expect(faults).toEqual([]);
    expect(counts).toMatchObject({ recording: 1, kit: 1 });
    db.close();
  });

  test('a file that says it is larger than the room there is, is refused before a byte is kept', async () => {
    const { status, body } = await at.client.announce('/api/recordings?name=vast.wav', 4e15);
    expect([status, errorOf(body).message]).toEqual([
      507,
      expect.stringMatching(/The file has 4000000\.0 GB; the disk has room for/),
    ]);
  });
});

describe('a compressed file is decoded once it has arrived', () => {
  test('cancelled while it is being decoded, it leaves nothing', async () => {
    // Ten minutes of noise, so that there is something to cancel.
    const flac = join(at.folder, 'long.flac');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      'anoisesrc=d=600:r=48000:a=0.4',
      '-ac',
      '2',
      '-c:a',
      'flac',
      flac,
    ]);
    const before = (await at.client.recordings()).length;
    const cancel = new AbortController();
    const heard = decodingTold(cancel);
    const body = readFileSync(flac);
    const request = { method: 'POST', body, signal: cancel.signal };
    const sent = fetch(`${at.server.address}/api/recordings?name=long.flac&key=long-one`, request);
    await expect(sent).rejects.toThrow(/abort/i);
    expect(await heard).toBeGreaterThan(0);
    const db = new Database(at.server.workspace, { readonly: true });
    const arriving = db.prepare("SELECT count(*) AS n FROM recording WHERE state = 'arriving'");
    await soon(() => expect(arriving.get()).toEqual({ n: 0 }));
    db.close();
    expect(await at.client.recordings()).toHaveLength(before);
    expect(readdirSync(at.folder).filter((name) => name.includes('-arriving-'))).toEqual([]);
  });

  /** Cancels at the first word of decoding on the event stream; gives how far it was. */
  async function decodingTold(cancel: AbortController): Promise<number> {
    const stream = await fetch(`${at.server.address}/api/events`);
    const reader = (stream.body as ReadableStream<Uint8Array>).getReader();
    let said = '';
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return 0;
      said += new TextDecoder().decode(value);
      const match = /"type":"decoding","key":"long-one","share":([\d.]+)/.exec(said);
      if (!match) continue;
      cancel.abort();
      await reader.cancel();
      return Number(match[1]);
    }
  }
});
