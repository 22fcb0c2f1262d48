import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './run.mjs';

/** Builds the application when a source is newer than the last build. */
export async function build() {
  const stamp = join(root, 'dist', '.built');
  const wanted = sourcesHash();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted && existsSync(join(root, '.next', 'BUILD_ID')))
    return;
  const { bundle } = await import('./bundle.mjs');
  mkdirSync(join(root, 'dist'), { recursive: true });
  await bundle();
  run('npx', ['--no-install', 'next', 'build']);
  writeFileSync(stamp, wanted);
}

function sourcesHash() {
  const hash = createHash('sha256');
  const walk = (path) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) walk(join(path, name));
    else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(path));
  };
  for (const name of [
    'src',
    'scripts/bundle.mjs',
    'package-lock.json',
    'next.config.ts',
    'postcss.config.mjs',
    'tsconfig.json',
  ])
    walk(join(root, name));
  return hash.digest('hex');
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) await build();
