import { VoiceEngine } from '../src/core/play/engine';
import { SOURCE, type SourceName, TARGET, type TargetName } from '../src/core/play/moves';
import { type LayerSound, type PadSound, PLAIN_LAYER, SILENT } from '../src/core/play/program';

/** What tests of the engine share. */

export const RATE = 48_000;
/** Four seconds of full level: what is heard of it is what shapes it. */
export const ONES = new Float32Array(RATE * 4).fill(1);

/** A pad of one layer, the whole of `ONES` unless said otherwise. */
export function padOf(set: Partial<PadSound> = {}, layer: Partial<LayerSound> = {}): PadSound {
  return { ...SILENT, ...set, layers: [{ ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: ONES.length, ...layer }] };
}

export function render(engine: VoiceEngine, frames: number, block = frames): [Float32Array, Float32Array] {
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += block) engine.process(left, right, Math.min(block, frames - at), at);
  return [left, right];
}

/** The left side of a pad's stroke at full velocity. */
export function play(
  sound: PadSound,
  frames: number,
  memory = ONES,
  act: (engine: VoiceEngine) => void = () => {},
): Float32Array {
  const engine = new VoiceEngine(RATE, memory);
  engine.setPad(0, sound);
  engine.strike(0, 127, 0);
  act(engine);
  return render(engine, frames)[0];
}

export const move = (source: SourceName, target: TargetName, depth: number) => ({
  source: SOURCE[source],
  target: TARGET[target],
  depth,
});

export const at = (samples: Float32Array, i: number) => samples[i] as number;

/** Everything that can move a pad, at figures of no round numbers: a filter, envelopes, oscillators, drift, moves. */
export const MOVED: Partial<PadSound> = {
  ...{ filter: 1, sections: 2, cutoffHz: 900, resonance: 2, filterOctaves: 3, pitchSemitones: 5, mode: 2, width: 1.3 },
  ...{ levelAttack: 333, levelDecay: 9000, levelSustain: 0.4, levelRelease: 2500, filterDecay: 5000, filterSustain: 0 },
  ...{ pitchDecay: 3001, pitchSustain: 0, driftCents: 20, driftDb: 2, lfo2Form: 6, lfo1Period: 777, lfo2Period: 5000 },
  ...{ takeOrder: 1, velocityPower: 0.4, fadeInFrames: 50 },
  moves: [
    move('lfo1', 'tune', 40),
    move('lfo2', 'cutoff', 1),
    move('wheel', 'lfo1Rate', 2),
    move('chance', 'start', 4),
    move('pressure', 'level', -9),
    move('velocity', 'cutoff', 1),
  ],
};
