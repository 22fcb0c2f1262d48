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
