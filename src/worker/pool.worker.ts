import * as Comlink from 'comlink';
import { RENDER_HEADERS } from '@/contract/hits';
import { type PitchMoment, pitchTrack } from '@/core/describe/pitch-track';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import { figuresOf, type HitFigures } from '@/core/hit/inspect';
import { audioKey, sourceKey, type TreatedHit } from '@/core/hit/key';
import { levelled, type Rendered, Renderer } from '@/core/hit/render';
import { spectrumOf } from '@/core/hit/spectrum';
import type { Pad } from '@/core/kit/model';
import type { LayerWithHit, PooledSound } from '@/core/kit/pad-sound';
import { normaliseGain } from '@/core/kit/render';
import { type NoiseSpectrum, packNoise } from '@/core/restoration/noise';
import { learnRoomTone } from '@/core/restoration/reduce';
import { type Audio, byteLength, frameCount, toMono, toStereo } from '@/core/signal/audio';
import { ByteCache } from '@/core/signal/byte-cache';
import { gainCurve } from '@/core/treatment/process/curves';
import { type BlockSource, Blocks } from './blocks';
import { NewestFirst } from './newest-first';

/** What is to be known of a recording to read and decode its samples. */
export interface RecordingFormat extends BlockSource {
  readonly encoding: SampleEncoding;
}

/** A request to copy a stretch of a recording into shared memory, at floats `left` and `right`. */
export interface LoadOrder {
  readonly recording: RecordingFormat;
  readonly start: number;
  readonly end: number;
  readonly left: number;
  readonly right: number;
}

/** A rendered hit: its audio is cached in the worker under `key`. */
export interface RenderedHit {
  readonly key: string;
  readonly frames: number;
  readonly sides: 1 | 2;
  readonly gain: number;
}

/** Columns to draw of a sound, and the frames [start, end) that they cover: all of it by default. */
export interface WaveView {
  readonly columns: number;
  readonly start?: number;
  readonly end?: number;
}

/** A room's tone as the values of a noise reduction. */
export interface LearntTone {
  readonly room: string;
  readonly humHz: number | null;
  readonly rest: string;
}

/** What is shown of a hit as it sounds. */
export interface Inspected {
  readonly figures: HitFigures;
  readonly spectrum: Float32Array;
}

/** Frames copied at a time, so that a long stretch is never held twice. */
const PIECE_FRAMES = 1 << 18;
/** Size of each cache: of sources, of intermediate steps and of renders. */
const KEPT_BYTES = 128 * 1024 * 1024;

const renderer = new Renderer(KEPT_BYTES);
const blocks = new Blocks<RecordingFormat>(KEPT_BYTES, fetchAudio);
const sources = new ByteCache<Audio>(KEPT_BYTES / 4, byteLength);
const rendered = new ByteCache<Audio>(KEPT_BYTES, byteLength);
const queue = new NewestFirst();

/** Fills the shared sample memory and renders hits, in a thread of its own. */
const api = {
  memory: new Float32Array(0) as Float32Array,

  open(memory: SharedArrayBuffer): void {
    api.memory = new Float32Array(memory);
  },

  /** Fetches, decodes and copies a stretch; settles when it is complete, and rejects with the server's message. */
  async load({ recording, start, end, left, right }: LoadOrder): Promise<void> {
    for (let at = start; at < end; at += PIECE_FRAMES) {
      const piece = await blocks.read(recording, at, Math.min(end, at + PIECE_FRAMES));
      lay(piece, left + at - start, right + at - start);
    }
  },

  /** Renders a hit. The newest waiting request goes first: it is the one being turned. */
  render(hit: TreatedHit, recording: RecordingFormat): Promise<RenderedHit> {
    return queue.run(async () => {
      const { audio, gain } = await soundOf(hit, recording);
      const key = audioKey(hit);
      rendered.set(key, audio);
      return { key, frames: frameCount(audio), sides: audio.channels.length === 1 ? 1 : 2, gain };
    });
  },

  /** Copies a render into memory; false where it was evicted and must be rendered again. */
  lay(key: string, left: number, right: number): boolean {
    const audio = rendered.get(key);
    if (audio) lay(audio, left, right);
    return audio !== undefined;
  },

  /** The lowest and highest sample of each of a view's columns of a hit as it sounds, gain included. */
  async wave(hit: TreatedHit, recording: RecordingFormat, view: WaveView): Promise<Float32Array> {
    const { audio, gain } = await queue.run(() => soundOf(hit, recording));
    const pairs = extremes(audio, gain, view);
    return Comlink.transfer(pairs, [pairs.buffer]);
  },

  /** Figures and spectrum of a hit as it sounds. */
  async inspect(hit: TreatedHit, recording: RecordingFormat): Promise<Inspected> {
    return queue.run(async () => {
      const { audio, gain } = await soundOf(hit, recording);
      return {
        figures: figuresOf(audio, gain),
        spectrum: spectrumOf(audio, gain),
      };
    });
  },

  /** The gain over time of one of a hit's steps, in dB, the lowest in each column of a view; null where it has none. */
  async gainCurve(
    hit: TreatedHit,
    recording: RecordingFormat,
    stepId: string,
    view: WaveView,
  ): Promise<Float32Array | null> {
    const at = hit.steps.findIndex((step) => step.id === stepId);
    const step = hit.steps[at];
    if (!step) return null;
    return queue.run(async () => {
      const { audio } = await soundOf({ ...hit, steps: hit.steps.slice(0, at) }, recording);
      const curve = gainCurve(step, audio);
      return curve && lowest(curve, view);
    });
  },

  /** The pitch over time of a hit as it sounds. */
  async pitchTrack(hit: TreatedHit, recording: RecordingFormat): Promise<PitchMoment[]> {
    return queue.run(async () => {
      const { audio } = await soundOf(hit, recording);
      return pitchTrack(toMono(audio), audio.sampleRate);
    });
  },

  /** The room tone in [start, end) of a recording; null where that is too short. */
  async learnRoom(recording: RecordingFormat, start: number, end: number): Promise<LearntTone | null> {
    const tone = learnRoomTone(await blocks.read(recording, start, end));
    if (!tone) return null;
    const { spectrum, hum } = tone;
    return { room: base64(spectrum), humHz: hum?.hz ?? null, rest: hum ? base64(hum.rest) : '' };
  },

  /** `normaliseGain` of the core, for samples that are already in memory. */
  normalise(
    pad: Pad,
    layers: readonly LayerWithHit[],
    sounds: readonly (readonly [hitId: string, sound: PooledSound])[],
    rate: number,
  ): number {
    const lookup = new Map(sounds);
    return normaliseGain(pad, layers, { memory: api.memory, soundOf: ({ id }) => lookup.get(id) ?? null }, rate);
  },
};

/** A hit's sound: fetched from the server where it is stored, rendered here where it is a draft. */
async function soundOf(hit: TreatedHit, recording: RecordingFormat): Promise<Rendered> {
  const key = audioKey(hit);
  const { startFrame, endFrame } = hit;
  const known = rendered.get(key) ?? (blocks.has(recording, startFrame, endFrame) ? null : await fetchRender(hit, key));
  if (known) return levelled(hit, known);
  const from = sourceKey(hit);
  const source = sources.get(from) ?? (await blocks.read(recording, startFrame, endFrame));
  // The same object again: what was found in it, as its onsets, need not be looked for again.
  sources.set(from, source);
  return renderer.render(hit, source);
}

async function fetchRender({ id }: TreatedHit, key: string): Promise<Audio | null> {
  // A stretch that is no hit of the workspace.
  if (id === '') return null;
  const answer = await fetch(`/api/hits/${id}/sound?key=${encodeURIComponent(key)}`);
  if (!answer.ok) return null;
  const told = (header: string) => Number(answer.headers.get(header));
  const channelCount = told(RENDER_HEADERS.channelCount);
  const floats = new Float32Array(await answer.arrayBuffer());
  const frames = told(RENDER_HEADERS.frames);
  if (floats.length !== frames * channelCount) return null;
  const channels = Array.from({ length: channelCount }, (_, c) =>
    Float32Array.from({ length: frames }, (_, i) => floats[i * channelCount + c] as number),
  );
  return { sampleRate: told(RENDER_HEADERS.sampleRate), channels };
}

async function fetchAudio(recording: RecordingFormat, start: number, end: number): Promise<Audio> {
  const { id, encoding, channelCount, sampleRate } = recording;
  const answer = await fetch(`/api/recordings/${id}/pcm?start=${start}&frames=${end - start}`);
  if (!answer.ok) throw new Error(`The samples could not be fetched (${answer.status}).`);
  return { sampleRate, channels: decodeFrames(encoding, new Uint8Array(await answer.arrayBuffer()), channelCount) };
}

function base64(noise: NoiseSpectrum): string {
  return btoa(String.fromCharCode(...packNoise(noise)));
}

function lay(audio: Audio, left: number, right: number): void {
  const [l, r] = toStereo(audio);
  api.memory.set(l, left);
  if (right !== left) api.memory.set(r, right);
}

/** Calls back with [from, to) of each column of a view, a frame at least. */
function eachColumn(view: WaveView, frames: number, use: (column: number, from: number, to: number) => void): void {
  const { columns, start = 0, end = frames } = view;
  for (let column = 0; column < columns; column++) {
    const from = Math.floor(start + (column * (end - start)) / columns);
    use(column, from, Math.max(from + 1, Math.floor(start + ((column + 1) * (end - start)) / columns)));
  }
}

function lowest(curve: Float32Array, view: WaveView): Float32Array {
  const values = new Float32Array(view.columns);
  eachColumn(view, curve.length, (column, from, to) => {
    let least = curve[from] ?? 0;
    for (let i = from; i < Math.min(to, curve.length); i++) least = Math.min(least, curve[i] as number);
    values[column] = least;
  });
  return values;
}

function extremes(audio: Audio, gain: number, view: WaveView): Float32Array {
  const frames = frameCount(audio);
  const pairs = new Float32Array(2 * view.columns);
  eachColumn(view, frames, (column, from, to) => {
    for (const channel of audio.channels) {
      for (let i = from; i < Math.min(to, frames); i++) {
        const x = (channel[i] as number) * gain;
        if (x < (pairs[2 * column] as number)) pairs[2 * column] = x;
        if (x > (pairs[2 * column + 1] as number)) pairs[2 * column + 1] = x;
      }
    }
  });
  return pairs;
}

export type PoolWorker = typeof api;
Comlink.expose(api);
