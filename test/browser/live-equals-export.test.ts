import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { KitView } from '../../src/contract/views';
import { readWav } from '../../src/core/format/wav';
import type { ReadStretch } from '../../src/core/hit/render';
import { poolHits, strikeOnce } from '../../src/core/kit/render';
import { padSound } from '../../src/core/kit/sound';
import { VoiceEngine } from '../../src/core/play/engine';
import type { PadSound } from '../../src/core/play/sound';
import { frameCount } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { Kind, PROCESSOR, RECORD_FLOATS, RING_RECORDS, State } from '../../src/engine/protocol';
import { bundlePads } from '../../src/server/exporting/kit-bundle';
import { readAudio } from '../../src/server/importing/pcm';
import { kitView } from '../../src/server/views/kits';
import { begin, type Session } from '../harness';

let session: Session;

beforeAll(async () => {
  session = await begin();
  await session.page.goto(`${session.server.address}/recordings`);
});

afterAll(() => session?.end());

/** One step of 24-bit audio: what an export can tell apart. */
const STEP = 2 ** -23;

interface Take {
  readonly memory: Float32Array;
  readonly sampleRate: number;
  readonly frames: number;
  readonly records: readonly (readonly number[])[];
}

function padRecords(pad: number, sound: PadSound): number[][] {
  return [
    [Kind.beginPad, pad, sound.gainLeft, sound.gainRight, sound.held ? 1 : 0, sound.chokeGroup, sound.fadeOutFrames],
    ...sound.layers.map((l) => [Kind.addLayer, pad, l.left, l.right, l.start, l.end, l.ratio, l.gain, l.delay]),
  ];
}

/** Runs the shipped worklet in an offline audio context of the browser: the audio thread's own code and arithmetic. */
async function renderLive(take: Take): Promise<[Float32Array, Float32Array]> {
  const given = {
    ...take,
    memory: Buffer.from(take.memory.buffer, take.memory.byteOffset, take.memory.byteLength).toString('base64'),
    names: { processor: PROCESSOR, recordFloats: RECORD_FLOATS, ringRecords: RING_RECORDS, stateLength: State.length },
  };
  const channels = await session.page.evaluate(async (g) => {
    const bytes = Uint8Array.from(atob(g.memory), (c) => c.charCodeAt(0));
    const shared = {
      memory: new SharedArrayBuffer(bytes.length),
      ring: new SharedArrayBuffer(g.names.ringRecords * g.names.recordFloats * 8),
      cursor: new SharedArrayBuffer(8),
      state: new SharedArrayBuffer(g.names.stateLength * 8),
    };
    new Uint8Array(shared.memory).set(bytes);
    const ring = new Float64Array(shared.ring);
    for (const [i, record] of g.records.entries()) ring.set(record, i * g.names.recordFloats);
    new Int32Array(shared.cursor)[0] = g.records.length;
    const context = new OfflineAudioContext(2, g.frames, g.sampleRate);
    await context.audioWorklet.addModule('/engine/worklet.js');
    const options = { numberOfInputs: 0, outputChannelCount: [2], processorOptions: shared };
    new AudioWorkletNode(context, g.names.processor, options).connect(context.destination);
    const out = await context.startRendering();
    return [0, 1].map((c) => {
      const part = new Uint8Array(out.getChannelData(c).buffer);
      let text = '';
      for (let i = 0; i < part.length; i += 4096) text += String.fromCharCode(...part.subarray(i, i + 4096));
      return btoa(text);
    });
  }, given);
  return channels.map((text) => {
    const part = Buffer.from(text, 'base64');
    return new Float32Array(part.buffer.slice(part.byteOffset, part.byteOffset + part.length));
  }) as [Float32Array, Float32Array];
}

function furthest(a: Float32Array, b: Float32Array): number {
  expect(a.length).toBe(b.length);
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs((a[i] as number) - (b[i] as number)));
  return worst;
}

describe('the audio thread and the core', () => {
  // Pads that between them use everything the engine can do, struck, released and choked at odd frames.
  const random = seededRandom(24);
  const memory = Float32Array.from({ length: 40_000 }, (_, i) => (random() * 2 - 1) * Math.exp(-(i % 20_000) / 4000));
  const layer = (ratio: number, gain: number, delay = 0) => ({
    left: 0,
    right: 20_000,
    start: 7,
    end: 19_000,
    ratio,
    gain,
    delay,
  });
  const pads: PadSound[] = [1, 1.0594630943592953, 0.75, 2.5, 1].map((ratio, i) => ({
    gainLeft: 0.3 + i * 0.05,
    gainRight: 0.5 - i * 0.04,
    held: i === 2,
    chokeGroup: i > 2 ? 1 : 0,
    fadeOutFrames: i * 40,
    layers: i === 1 ? [layer(ratio, 1), layer(0.5, 0.4, 333)] : [layer(ratio, 0.9)],
  }));
  const strikes = Array.from({ length: 60 }, (_, i) => ({
    pad: i % pads.length,
    velocity: 1 + Math.floor(random() * 127),
    frame: Math.floor(random() * 40_000),
  }));
  const releases = [9000, 21_111, 30_001].map((frame) => ({ pad: 2, frame }));
  const frames = 64_000;

  function renderCore(block: number): [Float32Array, Float32Array] {
    const engine = new VoiceEngine(44100, memory);
    for (const [i, sound] of pads.entries()) engine.setPad(i, sound);
    for (const s of strikes) engine.strike(s.pad, s.velocity, s.frame);
    for (const r of releases) engine.release(r.pad, r.frame);
    const out: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)];
    for (let at = 0; at < frames; at += block) engine.process(out[0], out[1], Math.min(block, frames - at), at);
    return out;
  }

  test('render the same frames, whatever the block length', async () => {
    const records = [
      ...pads.flatMap((sound, i) => padRecords(i, sound)),
      ...strikes.map((s) => [Kind.strike, s.pad, s.velocity, s.frame]),
      ...releases.map((r) => [Kind.release, r.pad, r.frame]),
    ];
    const live = await renderLive({ memory, sampleRate: 44100, frames, records });
    const cores = [1, 64, 128, 1000].map(renderCore);
    expect(Math.max(...live[0])).toBeGreaterThan(0.1);
    for (const core of cores) {
      for (const side of [0, 1] as const) {
        expect(furthest(core[side], (cores[0] as typeof live)[side])).toBe(0);
        expect(furthest(core[side], live[side])).toBeLessThanOrEqual(STEP);
      }
    }
  });
});

test('what each pad of the demo kit sounds like live is what its exported file holds', async () => {
  const list = (await (await fetch(`${session.server.address}/api/kits`)).json()) as { id: string; name: string }[];
  const id = list.find((k) => k.name === 'Millstone')?.id as string;
  const zip = join(session.folder, 'kit.zip');
  writeFileSync(
    zip,
    new Uint8Array(await (await fetch(`${session.server.address}/api/kits/${id}/export`)).arrayBuffer()),
  );
  const out = join(session.folder, 'kit');
  mkdirSync(out);
  execFileSync('unzip', ['-q', zip, '-d', out]);

  const db = new Database(session.server.workspace, { readonly: true });
  const view: KitView = kitView(db, id);
  const read: ReadStretch = ({ recordingId }, start, end) => readAudio(db, recordingId, start, end);
  let layered = 0;
  for (const { pad, layers } of bundlePads(view)) {
    const file = readWav(readFileSync(join(out, 'samples', `${pad.name}.wav`))).audio;
    const pool = poolHits(
      layers.map((l) => l.hit),
      read,
    );
    if (layers.length > 1) layered++;
    // Level and pan are the player's: they stand in the SFZ file.
    const sound = padSound({ ...pad, levelDb: 0, pan: 0 }, layers, file.sampleRate, pool.soundOf, 1);
    const frames = frameCount(file);
    const records = [...padRecords(0, sound), [Kind.strike, 0, 127, 0]];
    const live = await renderLive({ memory: pool.memory, sampleRate: file.sampleRate, frames, records });
    for (const [c, channel] of file.channels.entries())
      expect(furthest(live[c as 0 | 1], channel)).toBeLessThanOrEqual(STEP);
    expect(frames).toBe(strikeOnce(sound, pool.memory, file.sampleRate)[0].length);
  }
  expect(layered).toBe(1);
  db.close();
});
