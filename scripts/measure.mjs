import { join } from 'node:path';
import { installPackages, installReferences } from './install.mjs';
import { root, run } from './run.mjs';

/**
 * Builds and runs one of the programs of test/ that are not tests: `npm run accuracy`, `npm run bench`, `npm run pictures`.
 * What follows the program's name is handed on to it.
 */
const PROGRAMS = {
  accuracy: { entry: 'test/accuracy/onsets.ts', fonts: true },
  tuning: { entry: 'test/accuracy/tune.ts', fonts: true },
  train: { entry: 'test/accuracy/train.ts', fonts: true },
  'train-edges': { entry: 'test/accuracy/train-edges.ts', fonts: true },
  ear: { entry: 'test/accuracy/ear/main.ts', fonts: true },
  'train-families': { entry: 'test/accuracy/ear/train-families.ts', fonts: true },
  'train-drums': { entry: 'test/accuracy/ear/train-drums.ts', fonts: true },
  'train-sameness': { entry: 'test/accuracy/ear/train-sameness.ts', fonts: true },
  'train-mixtures': { entry: 'test/accuracy/ear/train-mixtures.ts', fonts: true },
  'train-sureness': { entry: 'test/accuracy/ear/train-sureness.ts', fonts: true },
  names: { entry: 'test/accuracy/names.ts', fonts: true },
  formats: { entry: 'test/formats/table.ts', fonts: false },
  fuzz: { entry: 'test/formats/fuzz.ts', fonts: false },
  bare: { entry: 'test/accuracy/bare.ts', fonts: true },
  treatment: { entry: 'test/accuracy/treatment.ts', fonts: true },
  layers: { entry: 'test/accuracy/layers.ts', fonts: true },
  bench: { entry: 'test/bench/main.ts', fonts: false },
  pictures: { entry: 'test/pictures.ts', fonts: false },
};
const [name, ...args] = process.argv.slice(2);
const program = PROGRAMS[name];
if (!program) throw new Error(`There are the programs ${Object.keys(PROGRAMS).join(', ')}; not ${name}.`);
installPackages();
installReferences(program.fonts);
const { build } = await import('./build.mjs');
await build();
const { bundleProgram } = await import('./bundle.mjs');
run(process.execPath, [await bundleProgram(program.entry, join(root, 'dist', `${name}.cjs`)), ...args]);
