import { createStore, useStore } from '../parts/store';
import { soundNow } from '../sound/sound';

/** Source of a strike. */
export type Instrument = 'pointer' | 'keys';

export interface PadStrike {
  /** The pad's place in the kit. */
  readonly pad: number;
  /** 1..127. */
  readonly velocity: number;
  /** Time of the strike in ms of the page's clock (`Event.timeStamp`), which is before it is handled. */
  readonly timeMs: number;
  readonly by: Instrument;
}

/** Velocity of sources that cannot sense it. */
export const KEY_VELOCITY = 110;

const lit = createStore<ReadonlySet<number>>(new Set());
const followers = new Set<(strike: PadStrike, serial: number) => void>();

/**
 * The single entry point for strikes from any source: sounds the pad in the same task, lights it, and notifies
 * followers. Silent until the page's sound is open.
 */
export function strikePad(strike: PadStrike): void {
  const serial = soundNow()?.engine.strike(strike.pad, strike.velocity);
  light(strike.pad, true);
  if (serial === undefined) return;
  for (const follow of followers) follow(strike, serial);
}

/** Releases a pad: a sound that plays while held fades out. */
export function releasePad(pad: number): void {
  soundNow()?.engine.release(pad);
  light(pad, false);
}

/**
 * Subscribes to strikes; returns the function that unsubscribes. `serial` identifies the engine frame; see
 * `EngineClient.fellAt`.
 */
export function followStrikes(follow: (strike: PadStrike, serial: number) => void): () => void {
  followers.add(follow);
  return () => followers.delete(follow);
}

/** Whether a pad is held down. */
export function useLit(pad: number): boolean {
  return useStore(lit, (pads) => pads.has(pad));
}

function light(pad: number, on: boolean): void {
  const now = lit.get();
  if (now.has(pad) === on) return;
  const next = new Set(now);
  if (on) next.add(pad);
  else next.delete(pad);
  lit.set(next);
}
