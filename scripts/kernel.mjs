import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './run.mjs';

const SOURCE = join(root, 'src', 'core', 'kernel', 'assembly', 'index.ts');
const OUT = join(root, 'src', 'core', 'kernel', 'kernel-wasm.ts');

/** Vectors do not leave the module, though its files hand them to one another. */
const QUIET = ['--disableWarning', '112'];

/** Compiles the kernel; gives the module's bytes. */
export function compileKernel() {
  const folder = mkdtempSync(join(tmpdir(), 'undercroft-kernel-'));
  const path = join(folder, 'kernel.wasm');
  try {
    const options = [
      '--runtime',
      'stub',
      '--use',
      'abort=',
      '--enable',
      'simd',
      '-O3',
      '--noAssert',
      ...QUIET,
      '-o',
      path,
    ];
    execFileSync('npx', ['--no-install', 'asc', SOURCE, ...options], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    return readFileSync(path);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** `npm run kernel`: compiles it into the core, to be committed beside its source; a test compares the two. */
if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  writeFileSync(
    OUT,
    `/** src/core/kernel/assembly, compiled by \`npm run kernel\`. */
export const KERNEL_WASM =
  '${compileKernel().toString('base64')}';
`,
  );
}
