import { join } from 'node:path';
import { installPackages, installReferences } from './install.mjs';
import { root, run } from './run.mjs';

/** `npm run bench`: builds, then prints the table of speeds and sizes. */
installPackages();
installReferences(false);
const { build } = await import('./build.mjs');
await build();
const { bundleProgram } = await import('./bundle.mjs');
run(process.execPath, [await bundleProgram('test/bench/main.ts', join(root, 'dist', 'bench.cjs'))]);
