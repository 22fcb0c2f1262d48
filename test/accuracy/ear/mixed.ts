import { chancesOf } from '../../../src/core/describe/chances';
import { Describer } from '../../../src/core/describe/description';
import { type Grouped, groupSlices, type ListenedSlice, mixturesOf } from '../../../src/core/describe/hearing';
import type { MixtureCase, Mixtures } from '../../../src/core/describe/mixtures';
import { comparable, pairsAmong } from '../../../src/core/describe/sameness';
import { detectOnsets } from '../../../src/core/onset/detect';
import { RATE } from '../fluid';
import { type Group, mixedPattern } from '../patterns';
import { type Loop, makeLoop, type TrueSlice } from './loops';
import { familyOfKey, type Kit } from './percussion';
import { strokeLoop, strokesOf } from './strokes';

/** A loop as it is heard slice by slice, and what is true of each. */
export interface MixedLoop {
  readonly kit: Kit;
  readonly truth: readonly TrueSlice[];
  readonly grouped: Grouped;
  readonly mixtures: Mixtures;
}

const describer = new Describer(RATE);

export function mixedLoop(kit: Kit, loop: Loop): MixedLoop {
  const slices = loop.slices.map(({ startFrame, endFrame }): ListenedSlice => {
    const figures = describer.describe(loop.samples, startFrame, endFrame);
    return { startFrame, endFrame, figures, chances: chancesOf(figures), family: null, shelf: null };
  });
  const recording = { sampleRate: RATE, candidates: detectOnsets(loop.samples, RATE) };
  const pairs = pairsAmong(slices.map(({ figures, chances }) => comparable(figures, chances)));
  const grouped = groupSlices(slices, () => recording, pairs);
  return { kit, truth: loop.slices, grouped, mixtures: mixturesOf(slices, grouped, pairs) };
}

/** Whether the drum that a case names was struck in the slice, and is not the one that it is named by. */
export function holds({ truth, grouped }: MixedLoop, i: number, { other }: Pick<MixtureCase, 'other'>): boolean {
  const keys = truth[i]?.keys ?? [];
  const family = grouped.slices[i]?.family;
  return keys.length > 1 && (truth[other]?.keys ?? []).some((key) => keys.includes(key) && familyOfKey(key) !== family);
}

/** How many drums were struck in a slice; null where it is not known what it holds, or it is taken for none of them. */
export function struckIn({ kit, truth, grouped }: MixedLoop, i: number): number | null {
  const keys = truth[i]?.keys ?? [];
  const known = !keys.some((key) => kit.without?.includes(key));
  const right = keys.some((key) => familyOfKey(key) === grouped.slices[i]?.family);
  return known && (keys.length === 1 || right) ? keys.length : null;
}

/** What is told of strokes of one drum, and of several as one. */
export class MixtureScore {
  private readonly alone = { of: 0, wrong: 0 };
  private readonly several = { of: 0, told: 0, strange: 0, there: 0 };

  /** Counts a slice, by the cases that are told of it. */
  add(of: MixedLoop, i: number, cases: readonly MixtureCase[], told: readonly MixtureCase[]): void {
    const struck = struckIn(of, i);
    if (struck === null) return;
    if (struck === 1) {
      this.alone.of++;
      if (told.length > 0) this.alone.wrong++;
      return;
    }
    const { several } = this;
    several.of++;
    if (cases.some((some) => holds(of, i, some))) several.there++;
    if (told.some((some) => holds(of, i, some))) several.told++;
    if (told.some((some) => !holds(of, i, some))) several.strange++;
  }

  /** In words. */
  report(): string {
    const { alone, several } = this;
    const share = (n: number, all: number) => `${((100 * n) / Math.max(1, all)).toFixed(1)} %`;
    return `of ${several.of} strokes of several drums ${share(several.told, several.of)} are told to hold another that was struck (${share(several.there, several.of)} have it on a shelf), ${share(several.strange, several.of)} one that was not; of ${alone.of} strokes of one drum ${share(alone.wrong, alone.of)} are said to hold another`;
  }
}

const SEEDS = [11, 12, 13];
/** How much strokes of one drum differ in the loops of random strokes. */
const STRENGTHS = [0, 0.5, 1, 1.5];

/** What is told of the loops of some kits to hold several drums: of patterns as they are played, and of random strokes. */
export function reportMixtures(kits: readonly Kit[], groups: readonly Group[], folder: string): string[] {
  const told = (loops: readonly Loop[], kit: Kit, to: MixtureScore) => {
    for (const mixed of loops.map((loop) => mixedLoop(kit, loop))) {
      for (const [i, drums] of mixed.mixtures.heard().entries()) {
        const cases = mixed.mixtures.cases(i);
        to.add(
          mixed,
          i,
          cases,
          cases.filter(({ family }) => drums.some((drum) => drum.family === family)),
        );
      }
    }
  };
  const [patterns, unlike, random] = [new MixtureScore(), new MixtureScore(), new MixtureScore()];
  for (const [k, kit] of kits.entries()) {
    for (const group of groups) {
      told(
        SEEDS.slice(0, 2).map((seed) => makeLoop(kit, group, seed, folder)),
        kit,
        patterns,
      );
      told([strokeLoop(kit, group, SEEDS[2] as number, 1, folder)], kit, unlike);
    }
    told(
      STRENGTHS.map((strength, s) => strokesOf(kit, mixedPattern(1000 + STRENGTHS.length * k + s), strength, folder)),
      kit,
      random,
    );
  }
  return [
    `Loops made of samples: ${patterns.report()}`,
    `Loops in which every stroke differs: ${unlike.report()}`,
    `Random strokes: ${random.report()}`,
  ];
}
