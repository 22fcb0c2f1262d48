import { detectOnsets } from '../../src/core/onset/detect';
import { cutsAtFirst, cutsInMiddle, edgeFigures, LEADS_MS, loopError, stretchError } from './edges';
import { REPORT } from './fonts';
import type { Item } from './items';
import { quantile } from './score';
import { makeTakes, NOISES, ROOM_DB, startMoves, tailErrors, tailFigures } from './tails';

const TAKE_SEEDS = [1, 2, 3];

/** Prints how slices begin at the edges of loops and stretches, and end in room tone; gives the floors with whether they are met. */
export function reportCuts(items: readonly Item[], folder: string): [string, boolean][] {
  return [...reportEdges(items), ...reportTails(folder)];
}

function reportEdges(items: readonly Item[]): [string, boolean][] {
  console.log('\nFirst slice of loops cut shortly before a stroke, against its true start');
  const sets = [
    { what: 'before the first sound', cutsOf: cutsAtFirst },
    { what: 'before strokes in the middle', cutsOf: cutsInMiddle },
  ];
  const within = sets.map(({ what, cutsOf }) => {
    const cuts = items.flatMap((item) => cutsOf(item).map((cut) => ({ item, cut })));
    const loops = cuts.map(({ item, cut }) => ({ leadMs: cut.leadMs, error: loopError(item, cut) }));
    const candidates = new Map(items.map((item) => [item, detectOnsets(item.samples, item.sampleRate)]));
    const stretches = cuts.map(({ item, cut }) => stretchError(item, cut, candidates.get(item) ?? []));
    for (const leadMs of LEADS_MS)
      print(`  ${leadMs} ms ${what}`, edgeFigures(loops.filter((l) => l.leadMs === leadMs).map((l) => l.error)));
    const all = edgeFigures(loops.map((l) => l.error));
    print(`  all ${what}`, all);
    const marked = edgeFigures(stretches);
    print(`  stretches marked ${what}`, marked);
    return { loops: all.within, stretches: marked.within };
  });
  return [['98 % of loops cut before their first sound start within 1 ms of it', (within[0]?.loops ?? 0) >= 0.98]];
}

function print(what: string, { count, within, late, early, none, worstMs }: ReturnType<typeof edgeFigures>): void {
  const rest = `${late} later, ${early} earlier, ${none} without a slice, worst ${worstMs.toFixed(1)} ms`;
  console.log(what.padEnd(44), `${(100 * within).toFixed(1)} % of ${count} within 1 ms; ${rest}`);
}

function reportTails(folder: string): [string, boolean][] {
  const takes = Object.entries(REPORT).flatMap(([name, fonts]) =>
    TAKE_SEEDS.flatMap((seed) => makeTakes(name, fonts, seed, folder)),
  );
  const errors = takes.flatMap(tailErrors);
  console.log('\nEnds of slices in takes with room tone, against where the tail falls to its level');
  const floors = (['splitMs', 'diesAwayMs'] as const).map((which): [string, boolean] => {
    const what = which === 'splitMs' ? 'as the attack split sets them' : 'until it dies away';
    const figures = tailFigures(errors, which);
    console.log(
      `  ${what}`.padEnd(44),
      `${(100 * figures.within).toFixed(1)} % of ${figures.count} within 20 % or 30 ms; median ${figures.medianMs.toFixed(0)} ms, latest ${figures.latest.toFixed(0)}, earliest ${figures.earliest.toFixed(0)} ms`,
    );
    const part = (of: string) =>
      `${of} ${(
        100 *
          tailFigures(
            errors.filter((e) => e.take.includes(of)),
            which,
          ).within
      ).toFixed(0)} %`;
    console.log(`    ${[...NOISES, ...ROOM_DB.map((db) => `${db} dBFS`)].map(part).join(', ')}`);
    return [`90 % of ends ${what} lie within 20 % or 30 ms`, figures.within >= 0.9];
  });
  const moves = takes.flatMap(startMoves).map(({ ms }) => ms);
  const still = moves.filter((ms) => ms <= 1).length / moves.length;
  console.log(
    '  threshold lowered by 2 dB'.padEnd(44),
    `${(100 * still).toFixed(1)} % of ${moves.length} starts stay within 1 ms; the furthest moves ${quantile(moves, 1).toFixed(1)} ms`,
  );
  return [...floors, ['98 % of starts at silence stay when the threshold is lowered by 2 dB', still >= 0.98]];
}
