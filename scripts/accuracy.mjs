import { join } from 'node:path';
import { installPackages, installReferences } from './install.mjs';
import { root, run } from './run.mjs';

/** `npm run accuracy`: renders the report set and prints our figures beside the references'. `--quick`: a quarter of it. */
installPackages();
installReferences(true);
const { bundleProgram } = await import('./bundle.mjs');
const tuning = process.argv.includes('--tuning');
const program = await bundleProgram(
  tuning ? 'test/accuracy/tune.ts' : 'test/accuracy/onsets.ts',
  join(root, 'dist', 'accuracy.cjs'),
);
run(process.execPath, [program, ...process.argv.slice(2).filter((a) => a !== '--tuning')]);
