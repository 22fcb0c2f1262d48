import * as Comlink from 'comlink';
import { toBase64 } from '@/core/bytes';
import { type PitchMoment, pitchTrack } from '@/core/describe/pitch-track';
import { spectrumOf } from '@/core/describe/spectrum';
import { type Finish, type Finished, finishOf } from '@/core/hit/finish';
import { figuresOf, type HitFigures } from '@/core/hit/inspect';
import { audioKey, type TreatedHit } from '@/core/hit/key';
import { type MatchedBus, matchingGainDb } from '@/core/kit/match';
import type { Pad } from '@/core/kit/model';
import type { LayerWithHit, PooledSound } from '@/core/kit/pad-sound';
import { normaliseGain } from '@/core/kit/render';
import type { LineUpBy } from '@/core/layering/taken';
import { layRoom } from '@/core/live/lay-room';
import { type NoiseSpectrum, packNoise } from '@/core/restoration/noise';
import { learnRoomTone } from '@/core/restoration/reduce';
import { type RoomSettings, roomResponse } from '@/core/room/response';
import { type Audio, frameCount, toMono, toStereo } from '@/core/signal/audio';
import { gainCurve } from '@/core/treatment/process/curves';
import { amplified } from '@/core/treatment/processor';
import { metronomeClick } from '@/core/voice/click';
import { extremes, lowest, type WaveView } from './columns';
import { addition, type Lanes, lanes, layerLevels, lineUp, sharing } from './layers';
import { maskingAmong, type StruckSound } from './masking';
import { NewestFirst } from './newest-first';
import { blocks, type RecordingFormat, rendered, soundOf } from './sounds';
import { variantsOf } from './variants';

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

  /** Lays a room's response into memory, ready for the engine. */
  layRoom(room: RoomSettings, sampleRate: number, at: number): void {
    layRoom(roomResponse(room, sampleRate), api.memory, at);
  },

  /** Lays the click of the metronome into memory. */
  layClick(sampleRate: number, at: number): void {
    const click = metronomeClick(sampleRate);
    lay(click, at, at);
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

  /** The layers of a layered hit to draw; `known` are the keys of those the page has. */
  async lanes(hit: TreatedHit, recording: RecordingFormat, known: readonly string[]): Promise<Lanes> {
    const found = await queue.run(() => lanes(hit, recording, known));
    return Comlink.transfer(
      found,
      found.lanes.flatMap(({ samples }) => (samples ? [samples.buffer] : [])),
    );
  },

  /** Levels of the layers of a layered hit, and of their sum. */
  layerLevels: (hit: TreatedHit, recording: RecordingFormat) => queue.run(() => layerLevels(hit, recording)),

  /** The layers of a layered hit brought together. */
  lineUp: (hit: TreatedHit, recording: RecordingFormat, by: LineUpBy) => queue.run(() => lineUp(hit, recording, by)),

  /** Whether the layers of a layered hit add: what their sum has over their own powers, and what would mend it. */
  addition: (hit: TreatedHit, recording: RecordingFormat) => queue.run(() => addition(hit, recording)),

  /** A sound against the others of a kit. */
  masking: (own: StruckSound, others: readonly StruckSound[]) => queue.run(() => maskingAmong(own, others)),

  /** Variants of a layered hit, rendered in one go. */
  variants: (hit: TreatedHit, variants: readonly TreatedHit[], recording: RecordingFormat, columns: number) =>
    queue.run(() => variantsOf(hit, variants, recording, columns)),

  /** The steps that finish a hit as it is printed. */
  finish: (hit: TreatedHit, recording: RecordingFormat, wanted: Finish): Promise<Finished> =>
    queue.run(async () => {
      const { audio, gain } = await soundOf(hit, recording);
      return finishOf(amplified(audio, gain), wanted);
    }),

  /** How the layers of a layered hit could share the spectrum. */
  sharing: (hit: TreatedHit, recording: RecordingFormat) => queue.run(() => sharing(hit, recording)),

  /** The room tone in [start, end) of a recording; null where that is too short. */
  async learnRoom(recording: RecordingFormat, start: number, end: number): Promise<LearntTone | null> {
    const tone = learnRoomTone(await blocks.read(recording, start, end));
    if (!tone) return null;
    const { spectrum, hum } = tone;
    return { room: base64(spectrum), humHz: hum?.hz ?? null, rest: hum ? base64(hum.rest) : '' };
  },

  /** `matchingGainDb` of the core, for pads whose sounds are in memory already. */
  matchingGainDb(bus: Omit<MatchedBus, 'memory'>): number {
    return matchingGainDb({ ...bus, memory: api.memory });
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

function base64(noise: NoiseSpectrum): string {
  return toBase64(packNoise(noise));
}

function lay(audio: Audio, left: number, right: number): void {
  const [l, r] = toStereo(audio);
  api.memory.set(l, left);
  if (right !== left) api.memory.set(r, right);
}

export type PoolWorker = typeof api;
Comlink.expose(api);
