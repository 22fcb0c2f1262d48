import type { Region } from '../onset/split';
import { VoiceEngine } from '../play/engine';
import { type PadSound, PLAIN_LAYER, SILENT } from '../play/program';
import { type Audio, frameCount, toStereo } from '../signal/audio';
import { toDb } from '../signal/units';

export interface Rebuilt {
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Largest difference from the source in dBFS; -Infinity when it is identical. */
  readonly residualDb: number;
  /** Frame of that difference; 0 when it is identical. */
  readonly worstFrame: number;
  readonly identical: boolean;
}

/**
 * Plays contiguous slices of a recording through the voice engine at their own start times - no fades, unity gain, the
 * source's rate - and compares the result with the source frame by frame. Pads are reused in turn, because there may be
 * more slices than pads.
 */
export function rebuild(audio: Audio, regions: readonly Region[]): Rebuilt {
  const [left, right] = toStereo(audio);
  const frames = frameCount(audio);
  const memory = new Float32Array(frames * 2);
  memory.set(left);
  memory.set(right, frames);
  const engine = new VoiceEngine(audio.sampleRate, memory);
  const outLeft = new Float32Array(frames);
  const outRight = new Float32Array(frames);
  const PADS = 32;
  for (let first = 0; first < regions.length; first += PADS) {
    const some = regions.slice(first, first + PADS);
    for (const [pad, region] of some.entries()) {
      engine.setPad(pad, unityPad(region, frames));
      engine.strike(pad, 127, region.startFrame);
    }
    // The engine's clock starts with the recording, also where the first slice starts later.
    const from = first === 0 ? 0 : (some[0]?.startFrame ?? frames);
    const to = regions[first + PADS]?.startFrame ?? frames;
    engine.process(outLeft, outRight, to - from, from);
  }
  let worst = 0;
  let worstFrame = 0;
  for (let i = 0; i < frames; i++) {
    const off = Math.max(
      Math.abs((outLeft[i] as number) - (left[i] as number)),
      Math.abs((outRight[i] as number) - (right[i] as number)),
    );
    if (off > worst) {
      worst = off;
      worstFrame = i;
    }
  }
  return { left: outLeft, right: outRight, residualDb: toDb(worst), worstFrame, identical: worst === 0 };
}

function unityPad(region: Region, rightAt: number): PadSound {
  const layer = { ...PLAIN_LAYER, left: 0, right: rightAt, start: region.startFrame, end: region.endFrame };
  return { ...SILENT, layers: [layer] };
}
