/**
 * How the page and the audio thread share what happens: one ring of fixed-size records in shared memory, written by the
 * page alone and read by the audio thread alone (a single-producer, single-consumer queue; L. Lamport, "Specifying
 * concurrent program modules", 1983). Types and constants only.
 */
export const RECORD_FLOATS = 9;
export const RING_RECORDS = 4096;

/** First float of a record. The rest is listed behind each. */
export const Kind = {
  /** pad, velocity, engine frame (-1 for at once) */
  strike: 1,
  /** pad, engine frame */
  release: 2,
  /** pad or -1, engine frame */
  stop: 3,
  /** pad, gain left, gain right, held, choke group, fade-out frames */
  beginPad: 4,
  /** pad, left, right, start, end, ratio, gain, delay */
  addLayer: 5,
} as const;

/** Layout of the shared state: written by the audio thread, read by the page, which sets `mostVoices` and `highest` back to 0. */
export const State = { frame: 0, mostVoices: 1, peak: 2, received: 3, highest: 4, length: 8 } as const;

export interface Shared {
  readonly memory: SharedArrayBuffer;
  readonly ring: SharedArrayBuffer;
  /** Two 32-bit integers: records written, records read. */
  readonly cursor: SharedArrayBuffer;
  readonly state: SharedArrayBuffer;
}

export const PROCESSOR = 'undercroft-voices';
