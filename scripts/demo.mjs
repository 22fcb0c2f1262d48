import { installPackages } from './install.mjs';
import { run } from './run.mjs';

/** `npm run demo`: from a fresh clone to the running application with the demo recordings. */
installPackages();
const { build } = await import('./build.mjs');
await build();
run('bin/undercroft', ['demo', ...process.argv.slice(2)]);
