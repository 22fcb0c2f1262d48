import { Describer } from '../../../src/core/describe/description';
import { familyChances } from '../../../src/core/describe/family';
import { FAMILY_NETWORK } from '../../../src/core/describe/family-weights';
import { detectOnsets } from '../../../src/core/onset/detect';
import { selectOnsets, slicesFromOnsets } from '../../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../../src/core/onset/split';
import { type Rhythm, rhythmOf } from '../../../src/core/rhythm/rhythm';
import type { Stroke } from '../../../src/core/rhythm/stroke';
import { RATE } from '../fluid';
import type { Group } from '../patterns';
import { type Loop, makeLoop } from './loops';
import type { Kit } from './percussion';

const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping'];

export interface TempoReport {
  of: number;
  /** Within 2 % of the tempo, or of its half or double. */
  near: number;
  /** Within 2 % of the tempo itself. */
  exact: number;
  /** Mean share that the tempo told has among itself, its half and its double: how often it ought to be the right one. */
  promised: number;
  /** First bars of the same loops, each begun on every beat of its first bar, its true tempo given. */
  readonly bars: { of: number; right: number; promised: number };
}

/** Of rendered loops, how many tempi are told, and how many first bars. */
export function reportTempi(kits: readonly Kit[], seeds: readonly number[], folder: string): TempoReport {
  const result = { of: 0, near: 0, exact: 0, promised: 0, bars: { of: 0, right: 0, promised: 0 } };
  for (const kit of kits)
    for (const group of GROUPS)
      for (const seed of seeds) {
        const loop = makeLoop(kit, group, seed, folder);
        const { bpm: told, bpmConfidence } = rhythmOfLoop(loop.samples, null);
        const bpm = told ?? 1;
        const octaves = Math.log2(bpm / loop.bpm);
        const off = Math.abs(2 ** (octaves - Math.round(octaves)) - 1);
        result.of++;
        if (off < 0.02 && Math.abs(octaves) < 1.1) result.near++;
        if (off < 0.02 && Math.abs(octaves) < 0.1) result.exact++;
        result.promised += bpmConfidence;
        if (process.argv.includes('--wrong') && !(off < 0.02 && Math.abs(octaves) < 0.1))
          console.log(`  tempo of ${loop.name}: ${loop.bpm}, told ${bpm}`);
        for (let beat = 0; beat < 4; beat++) countBar(loop, beat, result.bars);
      }
  return { ...result, promised: result.promised / result.of };
}

/** Begins a loop on one of its beats, a little before it, and asks where its first bar begins. */
function countBar(loop: Loop, beat: number, bars: { of: number; right: number; promised: number }): void {
  const beatFrames = (60 / loop.bpm) * RATE;
  const cut = Math.max(0, Math.round(loop.downbeat + beat * beatFrames - 0.03 * RATE));
  const samples = loop.samples.slice(cut);
  const { downbeatFrame, downbeatConfidence } = rhythmOfLoop(samples, loop.bpm);
  const off = (downbeatFrame + cut - loop.downbeat) / (4 * beatFrames);
  bars.of++;
  bars.promised += downbeatConfidence;
  if (Math.abs(off - Math.round(off)) * 4 < 0.2) bars.right++;
  if (process.argv.includes('--wrong'))
    console.log(
      loop.name,
      beat,
      'off in beats',
      ((off - Math.round(off)) * 4).toFixed(2),
      downbeatConfidence.toFixed(2),
    );
}

function rhythmOfLoop(samples: Float32Array, tempoBpm: number | null): Rhythm {
  const describer = new Describer(RATE);
  const onsets = selectOnsets(detectOnsets(samples, RATE), SPLIT_INITIAL, RATE);
  const strokes = slicesFromOnsets(onsets, samples.length).map(({ startFrame, endFrame }): Stroke => {
    const figures = describer.describe(samples, startFrame, endFrame);
    const families = familyChances(figures, FAMILY_NETWORK).main;
    return { frame: startFrame, group: 0, peakDb: figures.peakDb, families };
  });
  const said = { tempoBpm, downbeatFrame: null, beats: 4, beatUnit: 4 };
  return rhythmOf(strokes, onsets, said, RATE, samples.length);
}
