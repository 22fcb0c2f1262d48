import { STEP, STEP_KINDS, type StepSound, stepAt } from '../live/figures';
import { momentaryLufs } from '../loudness/loudness';
import { VoiceEngine } from '../play/engine';
import { PAD, PROGRAM_FLOATS, STEPS_AT } from '../play/program';

/** Pads on a bus, as the engine plays them, and what the bus does: two ways of it. */
export interface MatchedBus {
  readonly rate: number;
  readonly memory: Float32Array;
  readonly pads: readonly { readonly position: number; readonly program: Float64Array }[];
  readonly on: readonly StepSound[];
  readonly off: readonly StepSound[];
}

const [APART_S, AFTER_S, VELOCITY] = [0.25, 0.75, 110];
const MOST_PADS = 16;
const MOST_DB = 24;
const BLOCK = 4096;
const LYING = [STEP_KINDS.indexOf('room'), STEP_KINDS.indexOf('echo')];

/**
 * The gain in dB that brings a bus the second way to the loudness of the first (the highest momentary loudness, ITU-R
 * BS.1770), its pads struck one after another; 0 where nothing is heard. Rooms and echoes are left out: those that are
 * playing lie in the same memory.
 */
export function matchingGainDb({ on, off, ...bus }: MatchedBus): number {
  const gain = loudnessOf(bus, on) - loudnessOf(bus, off);
  return Number.isFinite(gain) ? Math.max(-MOST_DB, Math.min(MOST_DB, gain)) : 0;
}

function loudnessOf({ rate, memory, pads }: Omit<MatchedBus, 'on' | 'off'>, steps: readonly StepSound[]): number {
  const engine = new VoiceEngine(rate, memory);
  engine.setBus(
    1,
    steps.filter(({ kind }) => !LYING.includes(kind)),
  );
  const struck = pads.slice(0, MOST_PADS);
  for (const [i, { position, program }] of struck.entries()) {
    const own = program.slice(0, PROGRAM_FLOATS);
    own[PAD.bus] = 1;
    own[PAD.roomSend] = 0;
    own[PAD.echoSend] = 0;
    for (let s = 0; s < (own[STEPS_AT] as number); s++) {
      const at = STEPS_AT + stepAt(s) + STEP.kind;
      if (LYING.includes(own[at] as number)) own[at] = 0;
    }
    engine.loadProgram(position, own, 0);
    engine.strike(position, VELOCITY, Math.round(i * APART_S * rate));
  }
  const frames = Math.round((struck.length * APART_S + AFTER_S) * rate);
  const channels = [new Float32Array(frames), new Float32Array(frames)] as const;
  for (let at = 0; at < frames; at += BLOCK) engine.process(...channels, Math.min(BLOCK, frames - at), at);
  return momentaryLufs({ sampleRate: rate, channels: [...channels] });
}
