import * as Comlink from 'comlink';
import type { ImportAnswer } from '@/contract/views';
import { Capture, type Phase } from '@/core/capture/capture';
import type { MeterReading } from '@/core/capture/meter';
import type { CaptureSettings } from '@/core/capture/parameters';
import { type SharedSound, SoundRing } from '@/core/capture/sound-ring';
import type { FallenStroke } from '@/core/capture/strokes';
import type { InputFault } from '@/core/capture/warnings';
import { type Arrivals, RingArrivals, TrackArrivals } from './recorder/arrivals';
import { Feed, type FeedPlan, openSource } from './recorder/feed';
import { type Sending, type StoredTake, type TakePlan, TakeSender } from './recorder/take-sender';

/** How often what came in is taken out of the ring, and what an instrument plays is made. */
const PACE_MS = 40;
/** An instrument that is recorded at once is made in pieces of this length. */
const PIECE_S = 0.5;
/** At once no more than this is ahead of the server. */
const MOST_AHEAD_S = 20;

/** What the page shows of the recorder. */
export interface Told {
  readonly phase: Phase;
  readonly frames: number;
  readonly sampleRate: number;
  readonly meter: MeterReading;
  readonly faults: readonly InputFault[];
  readonly roomDb: number | null;
  /** Since the last time; see `Capture.takeGrown`. */
  readonly columns: Float32Array;
  readonly strokes: readonly FallenStroke[];
  readonly gaps: number;
  readonly sending: Sending;
}

export interface Listener {
  told(told: Told): void;
  stored(take: StoredTake): void;
  failed(message: string, runs: boolean): void;
}

/** An input that is open: its track's own data, or shared memory that the audio thread writes to. */
export interface OpenInput {
  readonly from:
    | { readonly track: ReadableStream<AudioData> }
    | { readonly sound: SharedSound; readonly sampleRate: number; readonly channelCount: 1 | 2 };
  /** An instrument, and the memory that it is played into; null for another input. */
  readonly feed: { readonly plan: FeedPlan; readonly sound: SharedSound; readonly sampleRate: number } | null;
}

let listener: Listener | null = null;
let plan: TakePlan | null = null;
const sender = new TakeSender(() => plan as TakePlan, {
  stored: (take) => listener?.stored(take),
  failed: (message, runs) => listener?.failed(message, runs),
});
let input: Arrivals | null = null;
let capture: Capture | null = null;
let feed: Feed | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;
/** Frame of the input at which the running take began, and the frames that were lost in it. */
let takeFrom = 0;
let lost = 0;

/** The sink of the capture: takes go to the server, and where they begin is noted. */
const sink = {
  begin(sampleRate: number, channelCount: number): void {
    lost = 0;
    sender.begin(sampleRate, channelCount);
  },
  take: (channels: readonly Float32Array[]) => sender.take(channels),
  end: sender.end.bind(sender),
};

function drain(): void {
  if (!input || !capture) return;
  const block = input.take();
  if (block) capture.add(block);
  if (capture.phase === 'recording') takeFrom = input.frames - capture.frames;
  for (const gap of input.takeLost()) {
    if (capture.phase !== 'recording' || gap.frame + gap.frames <= takeFrom) continue;
    lost += gap.frames;
    sender.gap(Math.max(0, gap.frame - takeFrom), gap.frames);
  }
}

function tell(): void {
  if (!capture || !listener) return;
  const { phase, frames, sampleRate, reading, faults, room } = capture;
  listener.told({
    ...{ phase, frames, sampleRate, faults, gaps: lost, sending: sender.sending },
    ...capture.takeGrown(),
    meter: reading,
    roomDb: room?.levelDb ?? null,
  });
}

function turn(): void {
  feed?.fill();
  drain();
  tell();
  timer = setTimeout(turn, PACE_MS);
}

function silence(): void {
  clearTimeout(timer);
  feed = null;
  input?.close();
  input = null;
}

const api = {
  /** Tells of what comes in, and of takes that have been stored. */
  listen(told: Listener['told'], stored: Listener['stored'], failed: Listener['failed']): void {
    listener = { told, stored, failed };
  },

  /** Listens to an input; answers with the rate that it has. */
  async open({ from, feed: wanted }: OpenInput, settings: CaptureSettings): Promise<number> {
    silence();
    feed = wanted && (await Feed.open(wanted.plan, new SoundRing(wanted.sound), wanted.sampleRate));
    input =
      'track' in from
        ? await TrackArrivals.open(from.track)
        : new RingArrivals(from.sound, from.sampleRate, from.channelCount);
    capture = new Capture(input.sampleRate, input.channelCount, settings, sink);
    turn();
    return input.sampleRate;
  },

  /** Turns the drummer's crank. */
  turn(speed: number): void {
    feed?.turn(speed);
  },

  set(settings: CaptureSettings): void {
    capture?.set(settings);
  },

  /** Begins a take as the settings say. */
  arm(take: TakePlan, countS: number): void {
    plan = take;
    drain();
    capture?.arm(countS);
    tell();
  },

  /** Adds recordings that are heard in the take. */
  hears(recordingIds: readonly string[]): void {
    if (capture?.phase === 'recording') sender.hears(recordingIds);
  },

  /** Ends the take with all that has come in. */
  stop(): void {
    drain();
    capture?.stop();
    tell();
  },

  /** Lets the input go; takes are sent to their end. */
  close(): void {
    drain();
    capture?.stop();
    tell();
    silence();
  },

  resetMeter(): void {
    capture?.resetMeter();
  },

  /** Stores frames [from, to) of the take as a recording of their own, while it runs; null where they are no longer kept. */
  keepStroke(from: number, to: number): Promise<ImportAnswer | null> {
    const audio = capture?.heard(from, to);
    if (!audio || !plan) return Promise.resolve(null);
    const title = `${plan.title} at ${(from / audio.sampleRate).toFixed(2)} s`;
    const own = { ...plan, title };
    return new Promise((resolve, reject) => {
      const stroke = new TakeSender(() => own, {
        stored: ({ answer }) => resolve(answer),
        failed: (message) => reject(new Error(message)),
      });
      stroke.begin(audio.sampleRate, audio.channels.length);
      stroke.take(audio.channels);
      stroke.hears(sender.heard);
      stroke.end(null);
    });
  },

  /** Records an instrument faster than it is heard. */
  async atOnce(take: TakePlan, wanted: FeedPlan, seconds: number, sampleRate: number, settings: CaptureSettings) {
    silence();
    const source = await openSource(wanted, sampleRate);
    plan = take;
    capture = new Capture(sampleRate, 1, { ...settings, begin: 'now', stopAfterS: null }, sink);
    capture.arm(0);
    const piece = Math.round(PIECE_S * sampleRate);
    for (let left = Math.round(seconds * sampleRate); left > 0; left -= piece) {
      capture.add([source.read(Math.min(piece, left))]);
      tell();
      // Lets what is sent go on, and waits for it where it is far behind.
      do await new Promise((resolve) => setTimeout(resolve, sender.sending.held > MOST_AHEAD_S * sampleRate ? 50 : 0));
      while (sender.sending.held > MOST_AHEAD_S * sampleRate);
    }
    capture.stop();
    tell();
  },
};

export type RecorderWorker = typeof api;

Comlink.expose(api);
