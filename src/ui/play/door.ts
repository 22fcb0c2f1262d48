import { createStore, useStore } from '../parts/store';
import { soundNow } from '../sound/sound';

/** What a person strikes with. */
export type Instrument = 'pointer' | 'keys';

export interface PadStrike {
  /** The pad's place in the kit. */
  readonly pad: number;
  /** 1..127. */
  readonly velocity: number;
  /** When it was struck, in ms of the page's clock (`Event.timeStamp`): earlier than it is handled. */
  readonly timeMs: number;
  readonly by: Instrument;
}

/** The velocity of what cannot tell how hard it is struck. */
export const KEY_VELOCITY = 110;

const lit = createStore<ReadonlySet<number>>(new Set());
const followers = new Set<(strike: PadStrike, serial: number) => void>();

/**
 * The one way in for strikes, whatever a person strikes with: the pad sounds, in the same task, is lit, and whoever follows
 * strikes is told. Nothing sounds before the page's sound is open.
 */
export function strikePad(strike: PadStrike): void {
  const serial = soundNow()?.engine.strike(strike.pad, strike.velocity);
  light(strike.pad, true);
  if (serial === undefined) return;
  for (const follow of followers) follow(strike, serial);
}

/** Lets go of a pad: what it plays while it is held fades out. */
export function releasePad(pad: number): void {
  soundNow()?.engine.release(pad);
  light(pad, false);
}

/** Follows what is struck, until the answer is called. `serial` tells the engine's frame of it; see `EngineClient.fellAt`. */
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
