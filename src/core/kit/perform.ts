import type { TimedMessage } from '../midi/file';
import { MidiHands, type PadPlayer } from '../midi/playing';
import { VoiceEngine } from '../play/engine';
import type { KitSound } from '../play/kit-sound';
import { ALL } from '../play/limits';
import { Master } from '../play/master';
import type { PadSound } from '../play/program';
import { noteOf } from './layout';
import type { Pad } from './model';
import type { PlayedSounds } from './render';

/** A kit ready to be played offline. */
export interface PlayableKit {
  readonly sampleRate: number;
  readonly memory: Float32Array;
  readonly kit: KitSound;
  readonly limits: boolean;
  readonly pads: readonly { readonly pad: Pad; readonly sound: PadSound }[];
  readonly buses: PlayedSounds['buses'];
  readonly programs: PlayedSounds['programs'];
}

export interface PerformOptions {
  /** Only this pad's voices are heard, before the limiter; all take part. */
  readonly only?: number;
  /** Longest time that sound may ring on after the last message, in seconds. */
  readonly longestTailS?: number;
}

const BLOCK = 4096;
/** Each message may strike several pads. */
const MESSAGES_AT_ONCE = 100;
const LONGEST_TAIL_S = 60;

/** The engine and the master of a kit, as the page has them; of one pad alone before the limiter. */
export function readyEngine(playable: PlayableKit, only: number = ALL): { engine: VoiceEngine; master: Master } {
  const { sampleRate, memory, kit, limits, pads, buses } = playable;
  const engine = new VoiceEngine(sampleRate, memory);
  engine.setKit(kit);
  engine.only = only;
  for (const { place, steps } of buses) engine.setBus(place, steps);
  for (const { pad, sound } of pads) engine.setPad(pad.position, sound);
  return { engine, master: new Master(sampleRate, limits && only === ALL) };
}

/**
 * Plays a kit by MIDI messages, as the page plays it: the same engine, limiter, order of takes and chances. Yields blocks
 * until the last sound has died away, and returns whether it did: a loop that nothing ends is cut off.
 */
export function* perform(
  playable: PlayableKit,
  messages: readonly TimedMessage[],
  { only = ALL, longestTailS = LONGEST_TAIL_S }: PerformOptions = {},
): Generator<[Float32Array, Float32Array], boolean> {
  const { sampleRate, pads } = playable;
  const { engine, master } = readyEngine(playable, only);
  const byNote = new Map<number, number[]>();
  for (const { pad } of pads) byNote.set(noteOf(pad), [...(byNote.get(noteOf(pad)) ?? []), pad.position]);
  let frame = 0;
  const player: PadPlayer = {
    strike: (pad, velocity) => engine.strike(pad, velocity, frame),
    release: (pad) => engine.release(pad, frame),
    control: (number, value) => engine.control(number, value, frame),
    press: (pad, value) => engine.press(pad, value, frame),
    stop: () => engine.stop(-1, frame),
  };
  const hands = new MidiHands(player, (note) => byNote.get(note) ?? []);
  const end = Math.round((messages.at(-1)?.seconds ?? 0) * sampleRate);
  let next = 0;
  let over = false;
  let rest = Math.ceil(longestTailS * sampleRate);
  // What the limiter still holds back.
  let held = Math.ceil(sampleRate / 1000);
  while (engine.frame <= end || (rest > 0 && (engine.sounds || held > 0))) {
    let count = BLOCK;
    for (let some = 0; next < messages.length; next++, some++) {
      const { seconds, message } = messages[next] as TimedMessage;
      frame = Math.round(seconds * sampleRate);
      if (frame >= engine.frame + BLOCK) break;
      // So many that the engine's queue might not hold more: what is due is played first.
      if (some >= MESSAGES_AT_ONCE && frame > engine.frame) {
        count = frame - engine.frame;
        break;
      }
      hands.play(message);
    }
    if (next === messages.length && !over) {
      // What is still down at the end is let go there.
      frame = Math.max(end, engine.frame);
      hands.letAllGo();
      over = true;
    }
    if (engine.frame > end) {
      rest -= count;
      if (!engine.sounds) held -= count;
    }
    const left = new Float32Array(count);
    const right = new Float32Array(count);
    engine.process(left, right, count);
    master.process(left, right, count);
    yield [left, right];
  }
  return !engine.sounds;
}
