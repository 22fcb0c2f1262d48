import { attackOf } from '../layering/line-up';
import { detectOnsets } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';
import { separateStrikes } from '../onset/strikes';
import { type Audio, frameCount, toMono } from '../signal/audio';
import type { ChainStep } from '../treatment/chain';

/** What is wanted of a sound that is printed as a hit. */
export interface Finish {
  /** It starts on its attack. */
  readonly onAttack: boolean;
  /** It ends before a second strike. */
  readonly oneStrike: boolean;
  /** Fade at its end, in ms; 0 for none. */
  readonly fadeMs: number;
  /** Its true peak, set last; null leaves the level. */
  readonly truePeakDbtp: number | null;
}

/** What was found in a sound, and the steps that finish it as wanted. */
export interface Finished {
  readonly steps: readonly ChainStep[];
  /** Where its strongest attack begins, and where it is struck again, in ms; null where it is not. */
  readonly attackMs: number;
  readonly againMs: number | null;
}

/** Kept before the attack, so that its first half wave is whole. */
const BEFORE_MS = 0.25;
/** Kept free before a second strike. */
const CLEAR_MS = 2;

/** The steps after a sound's own that start it on its attack, cut a second strike off, fade it and set its level. */
export function finishOf(audio: Audio, { onAttack, oneStrike, fadeMs, truePeakDbtp }: Finish): Finished {
  const { sampleRate } = audio;
  const mono = toMono(audio);
  const ms = (frame: number) => (1000 * frame) / sampleRate;
  const attackMs = ms(attackOf(mono, sampleRate));
  const strikes = separateStrikes(selectOnsets(detectOnsets(mono, sampleRate), SPLIT_INITIAL, sampleRate), sampleRate);
  const again = strikes.find((frame) => ms(frame) > attackMs + CLEAR_MS);
  const againMs = again === undefined ? null : ms(again);
  const fromMs = onAttack ? Math.max(0, attackMs - BEFORE_MS) : 0;
  const toMs = oneStrike && againMs !== null ? againMs - CLEAR_MS : null;
  const lengthMs = (toMs ?? ms(frameCount(audio))) - fromMs;
  return {
    attackMs,
    againMs,
    steps: [
      ...(fromMs > 0 || toMs !== null ? [{ processor: 'trim' as const, fromMs, toMs }] : []),
      ...(fadeMs > 0 ? [{ processor: 'fades' as const, outMs: Math.min(fadeMs, lengthMs / 2) }] : []),
      ...(truePeakDbtp === null ? [] : [{ processor: 'level' as const, to: 'true-peak', truePeakDbtp }]),
    ],
  };
}
