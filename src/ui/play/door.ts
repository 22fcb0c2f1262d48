import type { PadPlayer } from '@/core/midi/playing';
import { tellInstead } from '../parts/notice';
import { createStore, useStore } from '../parts/store';
import { soundNow } from '../sound/open-sound';

/** Source of a strike. */
export type Instrument = 'pointer' | 'keys' | 'midi';

export interface PadStrike {
  /** The pad's place in the kit. */
  readonly pad: number;
  /** 1..127. */
  readonly velocity: number;
  /** Time of the strike in ms of the page's clock (`Event.timeStamp`), which is before it is handled. */
  readonly timeMs: number;
  readonly by: Instrument;
}

/** What is played on the pads, for those who follow it. */
export type Played =
  | ({ readonly kind: 'strike'; readonly serial: number } & PadStrike)
  | { readonly kind: 'release'; readonly pad: number; readonly timeMs: number }
  | { readonly kind: 'control'; readonly number: number; readonly value: number; readonly timeMs: number };

/** Velocity of sources that cannot sense it. */
export const KEY_VELOCITY = 110;

const lit = createStore<ReadonlySet<number>>(new Set());
const followers = new Set<(played: Played) => void>();

/**
 * The single entry point for strikes from any source: sounds the pad in the same task, lights it, and notifies
 * followers. Silent until the page's sound is open.
 */
export function strikePad(strike: PadStrike): void {
  if (strike.by === 'midi' && !mayPlay()) return;
  const serial = soundNow()?.engine.strike(strike.pad, strike.velocity);
  light(strike.pad, true);
  if (serial !== undefined) tellAll({ kind: 'strike', serial, ...strike });
}

/**
 * Whether the browser lets the page sound: before the first click or key it does not, and a controller is neither. Strokes
 * are not saved up for that moment.
 */
function mayPlay(): boolean {
  const engine = soundNow()?.engine;
  // Once there was a click or key, a stroke itself lets sound begin.
  if (!engine || engine.context.state === 'running' || navigator.userActivation?.hasBeenActive !== false) return true;
  tellInstead('sound', 'The browser lets a page sound only after a click or a key: click anywhere, then play on.');
  return false;
}

/** Releases a pad: a sound that plays while held fades out. */
export function releasePad(pad: number, timeMs = performance.now()): void {
  soundNow()?.engine.release(pad);
  light(pad, false);
  tellAll({ kind: 'release', pad, timeMs });
}

/** Plays pads for a controller; `timeOf` gives the time of the message that is being played. */
export function playerFor(timeOf: () => number): PadPlayer {
  return {
    strike: (pad, velocity) => strikePad({ pad, velocity, timeMs: timeOf(), by: 'midi' }),
    release: (pad) => releasePad(pad, timeOf()),
    control: (number, value) => {
      soundNow()?.engine.control(number, value);
      tellAll({ kind: 'control', number, value, timeMs: timeOf() });
    },
    press: (pad, value) => soundNow()?.engine.press(pad, value),
    stop: () => soundNow()?.engine.stop(),
  };
}

function tellAll(played: Played): void {
  for (const follow of followers) follow(played);
}

/** Subscribes to all that is played; returns the function that unsubscribes. */
export function followPlaying(follow: (played: Played) => void): () => void {
  followers.add(follow);
  return () => followers.delete(follow);
}

/**
 * Subscribes to strikes; returns the function that unsubscribes. `serial` identifies the engine frame; see
 * `EngineClient.fellAt`.
 */
export function followStrikes(follow: (strike: PadStrike, serial: number) => void): () => void {
  return followPlaying((played) => played.kind === 'strike' && follow(played, played.serial));
}

/** Whether a pad is held down. */
export function useLit(pad: number): boolean {
  return useStore(lit, (pads) => pads.has(pad));
}

/** Pads that are down, and those struck since the last frame was drawn: a short stroke is seen as well. */
const down = new Set<number>();
const struck = new Set<number>();
let waits = false;

/** Lights are drawn once a frame, however many strokes come. */
function light(pad: number, on: boolean): void {
  if (on) {
    down.add(pad);
    struck.add(pad);
  } else down.delete(pad);
  if (waits) return;
  waits = true;
  const draw = () => {
    waits = false;
    const next = new Set([...down, ...struck]);
    if (struck.size > 0) {
      struck.clear();
      waits = true;
      requestAnimationFrame(draw);
    }
    const now = lit.get();
    if (next.size !== now.size || [...next].some((p) => !now.has(p))) lit.set(next);
  };
  draw();
}
