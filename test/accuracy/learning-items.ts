import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { LEARNING, requireDisjoint } from './fonts';
import { type Item, makeItem } from './items';
import { GROUPS } from './patterns';

const SEEDS = [101, 102, 103, 104, 105, 106];

/** The items that starts are learnt from: every group, with the kits of each font by turns. None of the report set's sounds is in them. */
export function makeLearningItems(): Item[] {
  requireDisjoint(Object.values(LEARNING).flatMap(({ fonts }) => fonts));
  const folder = join(tmpdir(), 'undercroft-learning');
  mkdirSync(folder, { recursive: true });
  return Object.entries(LEARNING).flatMap(([name, { fonts, programs }]) =>
    GROUPS.flatMap((group) =>
      SEEDS.map((seed, s) => makeItem(name, fonts, group, seed, folder, programs[s % programs.length])),
    ),
  );
}
