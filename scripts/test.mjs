import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, installReferences } from './install.mjs';
import { root } from './run.mjs';

/** `npm test`: from a fresh clone to every test run. Its last line counts them, the linter, the types and the layers as one each. */
installPackages();
installReferences(false);
const { build } = await import('./build.mjs');
await build();

const report = join(root, 'dist', 'tests');
mkdirSync(report, { recursive: true });
let passed = 0;
let failed = 0;

check('biome', ['check', '--error-on-warnings', '.']);
check('tsc', ['--noEmit']);
check('depcruise', ['src', '--config', '.dependency-cruiser.mjs']);
// The browser tests have the machine to themselves: they measure what a person would feel.
jest('unit', ['--maxWorkers=100%']);
jest('browser', ['--runInBand']);
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;

function npx(name, args) {
  return spawnSync('npx', ['--no-install', name, ...args], { cwd: root, stdio: 'inherit' }).status;
}

function check(name, args) {
  console.log(`\n${name} ${args.join(' ')}`);
  if (npx(name, args) === 0) passed++;
  else failed++;
}

function jest(project, args) {
  const file = join(report, `${project}.json`);
  console.log(`\njest: ${project} tests`);
  const status = npx('jest', ['--selectProjects', project, '--json', `--outputFile=${file}`, ...args, '--silent']);
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(file, 'utf8'));
  passed += numPassedTests;
  failed += numFailedTests + numRuntimeErrorTestSuites;
  if (status !== 0 && failed === 0) failed = 1;
}
