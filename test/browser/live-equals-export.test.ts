import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { resolvedKit } from '../../src/contract/resolved';
import { readWav, writeWav } from '../../src/core/format/wav';
import type { ReadStretch } from '../../src/core/hit/render';
import { liveSteps } from '../../src/core/kit/live-steps';
import { padSound } from '../../src/core/kit/pad-sound';
import { PAD_INITIAL } from '../../src/core/kit/parameters';
import { poolHits, strikeOnce } from '../../src/core/kit/render';
import { printedPad } from '../../src/core/kit/told-in-sfz';
import type { StepSound } from '../../src/core/live/figures';
import { layRoom } from '../../src/core/live/lay-room';
import { roomLayout } from '../../src/core/live/room-size';
import { initialValues } from '../../src/core/parameter/values';
import { VoiceEngine } from '../../src/core/play/engine';
import { panGains, velocityGain } from '../../src/core/play/gains';
import { ECHO_BUS, KIT_BUSES, ROOM_BUS } from '../../src/core/play/limits';
import { Master } from '../../src/core/play/master';
import { type LayerSound, type PadSound, PLAIN_LAYER, SILENT } from '../../src/core/play/program';
import { roomResponse } from '../../src/core/room/response';
import { frameCount, peakOf } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { fromDb } from '../../src/core/signal/units';
import { POINT } from '../../src/core/treatment/equaliser';
import { LIVE_NAMES, LIVE_PARAMETERS } from '../../src/core/treatment/live';
import { Kind } from '../../src/engine/protocol';
import { playedPads } from '../../src/server/exporting/kit-bundle';
import { readAudio } from '../../src/server/importing/pcm';
import { kitView } from '../../src/server/views/kits';
import { begin, type Session, soon } from '../harness';
import { Client } from '../server/client';
import { MOVED } from '../voices';
import { floatsOf, renderLive } from './audio-thread';

let session: Session;
let client: Client;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  await session.page.goto(`${session.server.address}/recordings`);
});

afterAll(() => session?.end());

/** The velocity of the computer's keys. */
const KEY_VELOCITY = 110;
/** One step of 24-bit audio: what an export can tell apart. */
const STEP = 2 ** -23;

function furthest(a: Float32Array, b: Float32Array): number {
  expect(a.length).toBe(b.length);
  let worst = 0;
  for (let i = 0; i < a.length; i++) worst = Math.max(worst, Math.abs((a[i] as number) - (b[i] as number)));
  return worst;
}

describe('the audio thread and the core', () => {
  // Pads that between them use everything the engine can do, struck, released and choked at odd frames.
  const random = seededRandom(24);
  const SAMPLES = 40_000;
  const room = roomResponse(initialValues(LIVE_PARAMETERS.room), 44_100);
  // After the samples: a room and an echo for a pad, then those of the kit.
  const ROOM_FLOATS = roomLayout(room[0].length).floats;
  const ECHO_FRAMES = 3000;
  const OF_KIT = SAMPLES + ROOM_FLOATS + 2 * ECHO_FRAMES;
  const memory = new Float32Array(OF_KIT + ROOM_FLOATS + 2 * ECHO_FRAMES);
  for (let i = 0; i < SAMPLES; i++) memory[i] = (random() * 2 - 1) * Math.exp(-(i % 20_000) / 4000);
  layRoom(room, memory, SAMPLES);
  layRoom(room, memory, OF_KIT);
  const layer = (ratio: number, gain: number, delay = 0) => ({
    ...PLAIN_LAYER,
    left: 0,
    right: 20_000,
    start: 7,
    end: 19_000,
    ratio,
    gain,
    delay,
  });
  const pads: PadSound[] = [1, 1.0594630943592953, 0.75, 2.5, 1].map((ratio, i) => ({
    ...SILENT,
    gain: 0.3 + i * 0.05,
    pan: 0.2 - i * 0.1,
    mode: i === 2 ? 1 : 0,
    chokeGroup: i > 2 ? 1 : 0,
    fadeOutFrames: i * 40,
    layers: i === 1 ? [layer(ratio, 1), layer(0.5, 0.4, 333)] : [layer(ratio, 0.9)],
  }));
  // The last pad is moved by everything that can move one.
  const last = pads.pop() as PadSound;
  const [plain] = last.layers as [LayerSound];
  const take = (set: Partial<LayerSound>) => ({
    ...plain,
    ratio: 1.01,
    loopStart: 3000,
    loopEnd: 15_000,
    seam: 200,
    ...set,
  });
  const takes = [take({ take: 1 }), take({ take: 1, ratio: 0.8 }), take({ take: 1, reversed: 1 })];
  pads.push({ ...last, ...MOVED, layers: [...takes, take({ underTake: 1 })] });
  // One goes through every step there is, and one is a loop that is played by its slices.
  const [alone, , , stepped] = pads as [PadSound, PadSound, PadSound, PadSound];
  const steps = LIVE_NAMES.map((processor, position) => ({
    ...{ id: processor, padId: 'p', position, processor, active: true },
    ...(processor === 'equaliser' && { points: [{ ...initialValues(POINT), gainDb: 7 }] }),
  }));
  pads[3] = {
    ...stepped,
    steps: liveSteps(steps as never, 44_100, ({ processor }) =>
      processor === 'room'
        ? { at: SAMPLES, frames: room[0].length }
        : { at: SAMPLES + ROOM_FLOATS, frames: ECHO_FRAMES },
    ),
  };
  // Two play on a bus, which compresses them, and two send to the kit's room and echo.
  const stepOf = (processor: string, values: Readonly<Record<string, unknown>>) =>
    ({ id: processor, busId: 'b', position: 0, processor, active: true, ...values }) as never;
  const buses: StepSound[][] = Array.from({ length: KIT_BUSES }, () => []);
  buses[0] = liveSteps([stepOf('compressor', { thresholdDb: -30 })], 44_100, () => null);
  buses[ROOM_BUS - 1] = liveSteps([stepOf('room', { mix: 1 })], 44_100, () => ({ at: OF_KIT, frames: room[0].length }));
  const line = { at: OF_KIT + ROOM_FLOATS, frames: ECHO_FRAMES };
  buses[ECHO_BUS - 1] = liveSteps([stepOf('echo', { sides: 'to-and-fro', mix: 1 })], 44_100, () => line);
  for (const pad of [1, 3]) pads[pad] = { ...(pads[pad] as PadSound), bus: 1, roomSend: 0.2 };
  pads[2] = { ...(pads[2] as PadSound), echoSend: 0.5 };
  pads[0] = {
    ...alone,
    bySlices: 1,
    mode: 3,
    stretch: 1.37,
    loopFrames: 25_000,
    cuts: [0, 2500.5, 6000, 9100, 15_000],
  };
  const kit = { seed: 77, evenVelocity: 0, velocityExponent: 0.7 };
  const strikes = Array.from({ length: 60 }, (_, i) => ({
    pad: i % pads.length,
    velocity: 1 + Math.floor(random() * 127),
    frame: Math.floor(random() * 40_000),
  }));
  const releases = [9000, 21_111, 30_001].flatMap((frame) => [2, 4].map((pad) => ({ pad, frame })));
  const frames = 64_000;

  function renderCore(block: number): [Float32Array, Float32Array] {
    const engine = new VoiceEngine(44100, memory);
    for (const [i, sound] of pads.entries()) engine.setPad(i, sound);
    for (const [i, on] of buses.entries()) engine.setBus(i + 1, on);
    for (const s of strikes) engine.strike(s.pad, s.velocity, s.frame);
    for (const r of releases) engine.release(r.pad, r.frame);
    engine.setKit(kit);
    engine.control(1, 0.6, 15_000);
    engine.press(4, 0.7, 20_000);
    const master = new Master(44_100, true);
    const out: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)];
    for (let at = 0; at < frames; at += block) {
      const count = Math.min(block, frames - at);
      engine.process(out[0], out[1], count, at);
      master.process(out[0], out[1], count, at);
    }
    return out;
  }

  test('render the same frames, whatever the block length', async () => {
    const records = [
      ...strikes.map((s) => [Kind.strike, s.pad, s.velocity, s.frame, 0, -1, -1]),
      ...releases.map((r) => [Kind.release, r.pad, r.frame]),
      [Kind.kit, kit.seed, kit.evenVelocity, kit.velocityExponent, 1],
      [Kind.control, 1, 0.6, 15_000],
      [Kind.press, 4, 0.7, 20_000],
    ];
    const live = await renderLive(session.page, { memory, sampleRate: 44100, frames, pads, buses, records });
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

test('what each pad of the demo kit sounds like in the audio thread is what its exported file holds', async () => {
  const list = await client.get<{ id: string; name: string }[]>('/api/kits');
  const id = list.find((k) => k.name === 'Millstone')?.id as string;
  const out = await exported(id);
  const db = new Database(session.server.workspace, { readonly: true });
  const view = resolvedKit(kitView(db, id));
  const read: ReadStretch = ({ recordingId }, start, end) => readAudio(db, recordingId, start, end);
  let layered = 0;
  for (const { pad, layers } of playedPads(view)) {
    const file = readWav(readFileSync(join(out, 'samples', `${pad.name}.wav`))).audio;
    const pool = poolHits(
      layers.map((l) => l.hit),
      read,
    );
    if (layers.length > 1) layered++;
    // Level and pan are the player's: they stand in the SFZ file.
    const sound = padSound(printedPad(pad), layers, file.sampleRate, pool.soundOf, 1);
    const frames = frameCount(file);
    const records = [
      [Kind.kit, 1, 0, 1, 0],
      [Kind.strike, 0, 127, 0, 0, -1, -1],
    ];
    const live = await renderLive(session.page, {
      memory: pool.memory,
      sampleRate: file.sampleRate,
      frames,
      pads: [sound],
      records,
    });
    for (const [c, channel] of file.channels.entries())
      expect(furthest(live[c as 0 | 1], channel)).toBeLessThanOrEqual(STEP);
    expect(frames).toBe(strikeOnce(sound, pool.memory, file.sampleRate)[0].length);
  }
  expect(layered).toBe(1);
  db.close();
});

/** A kit's exported files. */
async function exported(kitId: string): Promise<string> {
  const zip = join(session.folder, `${kitId}.zip`);
  const answer = await fetch(`${session.server.address}/api/kits/${kitId}/export?for=self`);
  if (!answer.ok) throw new Error(await answer.text());
  writeFileSync(zip, new Uint8Array(await answer.arrayBuffer()));
  const out = join(session.folder, kitId);
  mkdirSync(out);
  execFileSync('unzip', ['-q', zip, '-d', out]);
  return out;
}

/** Takes down every frame that the page's audio thread gives. */
const TAP = `registerProcessor('tap', class extends AudioWorkletProcessor {
  process(inputs) {
    if (inputs[0].length === 2) this.port.postMessage([inputs[0][0].slice(), inputs[0][1].slice()]);
    return true;
  }
});`;

interface PageSound {
  readonly engine: {
    readonly context: AudioContext;
    readonly node: AudioWorkletNode;
    readonly strikes: { readonly sent: number };
    fellAt(serial: number): number | null;
  };
}

test('a pad of the real page, treated, layered, levelled and choked, gives the frames that its exported file holds', async () => {
  const { server, browser } = session;
  // The page's policy takes no script from elsewhere, as it should; what listens to it comes from here.
  const page = await (await browser.newContext({ bypassCSP: true })).newPage();
  await page.goto(`${server.address}/kits`);
  await page.waitForFunction(() => 'undercroftSound' in globalThis);
  // At the rate that the browser plays at, so that nothing is resampled on the way.
  const rate = await page.evaluate(
    () => (globalThis as never as { undercroftSound: PageSound }).undercroftSound.engine.context.sampleRate,
  );
  const random = seededRandom(8);
  const samples = [0, 1].map(() =>
    Float32Array.from({ length: rate }, (_, i) => 0.02 + (random() - 0.5) * Math.exp(-i / (rate / 4))),
  );
  const { recordingId } = await client.import(
    'Weir rush.wav',
    writeWav({ sampleRate: rate, channels: samples }, 's24'),
  );
  await client.cut(recordingId);
  const create = (doc: 'hit' | 'step' | 'member' | 'pad' | 'layer', id: string, value: object) =>
    ({ op: 'create', doc, id, value: { ...value } }) as const;
  const hit = (id: string, startFrame: number, endFrame: number) =>
    create('hit', id, { name: id, family: null, recordingId, sliceId: null, startFrame, endFrame });
  const step = (n: number, hitId: string, processor: string, values: object) =>
    create('step', `step-page-${String(n).replace('.', '-')}`, { hitId, position: n, processor, ...values });
  const pad = (id: string, position: number, values: object) =>
    create('pad', id, { kitId: 'kit-page-0001', position, name: id, family: null, ...values });
  const member = (n: number, values: object) =>
    create('member', `member-page-${n}`, { layeredId: 'hit-page-sum1', position: n, ...values });
  const layer = (n: number, padId: string, hitId: string, values: object) =>
    create('layer', `layer-page-${n}`, { padId, hitId, position: n, ...values });
  await client.edit('a kit with everything', [
    { op: 'create', doc: 'kit', id: 'kit-page-0001', value: { name: 'Everything' } },
    hit('hit-page-0001', 0, Math.round(rate * 0.6)),
    hit('hit-page-0002', 500, Math.round(rate * 0.4)),
    step(1, 'hit-page-0001', 'dc', { offset1: 0.02, offset2: 0.02 }),
    step(1.2, 'hit-page-0001', 'noise', { amountDb: 12 }),
    step(1.4, 'hit-page-0001', 'equaliser', { points: [{ kind: 'high-pass', frequencyHz: 60, steepDb: 24 }] }),
    step(1.6, 'hit-page-0001', 'saturation', { driveDb: 9, mix: 0.5 }),
    step(1.8, 'hit-page-0001', 'compressor', { thresholdDb: -24, lookAheadMs: 3 }),
    step(2, 'hit-page-0001', 'reverse', {}),
    step(2.5, 'hit-page-0001', 'tune', { semitones: -1, cents: 20 }),
    step(3, 'hit-page-0001', 'fades', { inMs: 30, inCurve: 'smooth', outMs: 10 }),
    step(3.5, 'hit-page-0001', 'limiter', { ceilingDbtp: -6 }),
    step(4, 'hit-page-0001', 'level', { to: 'true-peak', truePeakDbtp: -3 }),
    {
      op: 'create',
      doc: 'recordingStep',
      id: 'step-of-page-1',
      value: { recordingId, position: 0, processor: 'attack', attackDb: 4 },
    },
    step(5, 'hit-page-0002', 'channels', { take: 'mid', invert: true }),
    create('hit', 'hit-page-sum1', { ...hit('', 0, 500).value, name: 'hit-page-sum1', edgesHz: [400] }),
    member(1, { hitId: 'hit-page-0002', offsetFrames: 31, levelDb: -3, semitones: -2, bandsDb: [0, -9] }),
    member(2, { hitId: 'hit-page-0001', offsetFrames: -200, pan: 0.3, inverted: true, bandsDb: [-100, 0] }),
    step(6, 'hit-page-sum1', 'bands', { ratio: 4 }),
    pad('pad-page-0001', 0, { driftCents: 0, driftDb: 0, levelDb: -4.5, pan: 0.4, fadeOutMs: 20, chokeGroup: 1 }),
    layer(1, 'pad-page-0001', 'hit-page-0001', { levelDb: -2 }),
    layer(2, 'pad-page-0001', 'hit-page-sum1', {
      levelDb: -7,
      pan: -0.2,
      semitones: 3,
      cents: 12,
      offsetMs: -1.5,
      inverted: true,
    }),
    pad('pad-page-0002', 1, { levelDb: -60, chokeGroup: 1 }),
    layer(3, 'pad-page-0002', 'hit-page-0002', { levelDb: -60 }),
  ]);
  await page.evaluate((id) => localStorage.setItem('undercroft.kit', id), 'kit-page-0001');
  await page.reload();
  await page.locator('[data-position="0"][data-state="ready"]').getByText('pad-page-0001').waitFor();
  await page.locator('[data-position="1"][data-state="ready"]').waitFor();
  await page.evaluate(async (module) => {
    const { engine } = (globalThis as never as { undercroftSound: PageSound }).undercroftSound;
    await engine.context.resume();
    await engine.context.audioWorklet.addModule(URL.createObjectURL(new Blob([module], { type: 'text/javascript' })));
    const tap = new AudioWorkletNode(engine.context, 'tap');
    const taken: Float32Array[][] = [];
    (globalThis as never as { taken: Float32Array[][] }).taken = taken;
    tap.port.onmessage = ({ data }) => taken.push(data);
    engine.node.connect(tap).connect(engine.context.destination);
  }, TAP);
  /** Strikes a pad by its key, and gives the engine frame at which it fell. */
  const struck = async (key: string) => {
    await page.keyboard.press(key);
    const engine = () =>
      page.evaluate(() => {
        const { engine: e } = (globalThis as never as { undercroftSound: PageSound }).undercroftSound;
        return e.fellAt(e.strikes.sent);
      });
    await soon(async () => expect(await engine()).not.toBeNull());
    return (await engine()) as number;
  };
  const first = await struck('z');
  await page.waitForTimeout(120);
  const choked = (await struck('x')) - first;
  expect(choked).toBeGreaterThan(0.05 * rate);
  await page.waitForFunction(
    (frames) => (globalThis as never as { taken: unknown[] }).taken.length * 128 > frames,
    choked + rate,
  );
  const sides = await page.evaluate(() => {
    const { taken } = globalThis as never as { taken: Float32Array[][] };
    return [0, 1].map((side) => {
      const bytes = new Uint8Array(taken.length * 512);
      for (const [i, block] of taken.entries())
        bytes.set(new Uint8Array((block[side] as Float32Array).buffer), i * 512);
      let text = '';
      for (let i = 0; i < bytes.length; i += 4096) text += String.fromCharCode(...bytes.subarray(i, i + 4096));
      return btoa(text);
    });
  });
  const folder = await exported('kit-page-0001');
  const { audio } = readWav(readFileSync(join(folder, 'samples/pad-page-0001.wav')));
  expect(audio.sampleRate).toBe(rate);
  const sfz = readFileSync(join(folder, 'Everything.sfz'), 'utf8');
  const level = fromDb(Number(/volume=(.*)/.exec(sfz)?.[1])) * velocityGain(KEY_VELOCITY, PAD_INITIAL.velocityDb);
  const { left, right } = panGains(Number(/pan=(.*)/.exec(sfz)?.[1]) / 100);
  const loud = (x: number) => Math.abs(x) > 20 * STEP;
  for (const [side, text] of sides.entries()) {
    const channel = audio.channels[side] as Float32Array;
    const gain = level * (side === 0 ? left : right);
    const live = floatsOf(text);
    const begins = live.findIndex((x) => loud(x / gain)) - channel.findIndex(loud);
    for (let i = 0; i < choked; i++) {
      const off = (live[begins + i] as number) - gain * (channel[i] as number);
      if (Math.abs(off) > 2 * STEP) throw new Error(`Side ${side} differs by ${off} at frame ${i} of ${choked}.`);
    }
    // The other pad of its group, nearly silent itself, cuts it within 4 ms; the file has it whole.
    expect(peakOf([live.subarray(begins + choked + 0.004 * rate + 2)])).toBeLessThan(1e-4);
    expect(peakOf([channel.subarray(choked)])).toBeGreaterThan(0.01);
  }
});
