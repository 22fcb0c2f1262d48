import * as Comlink from 'comlink';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import type { Hit } from '@/core/hit/model';
import { withoutDc } from '@/core/hit/prepare';
import type { Pad } from '@/core/kit/model';
import { normaliseGain } from '@/core/kit/render';
import type { LayerWithHit, PooledSource } from '@/core/kit/sound';
import { toStereo } from '@/core/signal/audio';

/** A stretch of a recording to be laid in shared memory. */
export interface LoadOrder {
  readonly recordingId: string;
  readonly encoding: SampleEncoding;
  readonly channelCount: number;
  readonly sampleRate: number;
  readonly start: number;
  readonly end: number;
  readonly left: number;
  readonly right: number;
  /** What is taken off each channel. */
  readonly dc: readonly number[];
}

/** Frames asked for in one request: about a megabyte of stereo 24-bit sound. */
const PIECE_FRAMES = 1 << 18;

/** Fills the shared sample memory and works out what takes long, away from the page's thread. */
const api = {
  memory: new Float32Array(0) as Float32Array,

  open(memory: SharedArrayBuffer): void {
    api.memory = new Float32Array(memory);
  },

  /** Fetches, decodes and lays a stretch; settles when all of it is there, and throws with the server's message. */
  async load(order: LoadOrder): Promise<void> {
    for (let at = order.start; at < order.end; at += PIECE_FRAMES) {
      const frames = Math.min(PIECE_FRAMES, order.end - at);
      const answer = await fetch(`/api/recordings/${order.recordingId}/pcm?start=${at}&frames=${frames}`);
      if (!answer.ok) throw new Error(`The samples could not be fetched (${answer.status}).`);
      const bytes = new Uint8Array(await answer.arrayBuffer());
      const channels = decodeFrames(order.encoding, bytes, order.channelCount);
      const [left, right] = toStereo(withoutDc({ sampleRate: order.sampleRate, channels }, order.dc));
      api.memory.set(left, order.left + at - order.start);
      if (order.right !== order.left) api.memory.set(right, order.right + at - order.start);
    }
  },

  /** The gain that `normaliseGain` of the core gives, from samples that are already in memory. */
  normalise(
    pad: Pad,
    layers: readonly LayerWithHit[],
    sources: readonly (readonly [string, PooledSource])[],
    rate: number,
  ): number {
    const lookup = new Map(sources);
    return normaliseGain(pad, layers, { memory: api.memory, sourceOf: (hit: Hit) => lookup.get(hit.id) ?? null }, rate);
  },
};

export type PoolWorker = typeof api;
Comlink.expose(api);
