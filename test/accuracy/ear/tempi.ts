import { detectOnsets } from '../../../src/core/onset/detect';
import { selectOnsets } from '../../../src/core/onset/select';
import { DEFAULT_SPLIT } from '../../../src/core/onset/split';
import { estimateTempo } from '../../../src/core/onset/tempo';
import { RATE } from '../fluid';
import type { Group } from '../patterns';
import { makeLoop } from './loops';
import type { Kit } from './percussion';

const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping'];

/** Of rendered loops, how many tempi are told within 2 %, or as its half or double, and how many in the right octave. */
export function reportTempi(
  kits: readonly Kit[],
  seeds: readonly number[],
  folder: string,
): { of: number; near: number; exact: number } {
  const result = { of: 0, near: 0, exact: 0 };
  for (const kit of kits)
    for (const group of GROUPS)
      for (const seed of seeds) {
        const loop = makeLoop(kit, group, seed, folder);
        const strokes = selectOnsets(detectOnsets(loop.samples, RATE), DEFAULT_SPLIT, RATE);
        const bpm = estimateTempo(strokes, RATE, loop.samples.length)?.bpm ?? 1;
        const octaves = Math.log2(bpm / loop.bpm);
        const off = Math.abs(2 ** (octaves - Math.round(octaves)) - 1);
        result.of++;
        if (off < 0.02 && Math.abs(octaves) < 1.1) result.near++;
        if (off < 0.02 && Math.abs(octaves) < 0.1) result.exact++;
        if (process.argv.includes('--wrong') && !(off < 0.02 && Math.abs(octaves) < 0.1))
          console.log(`  tempo of ${loop.name}: ${loop.bpm}, told ${bpm}`);
      }
  return result;
}
