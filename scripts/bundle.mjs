import { rmSync } from 'node:fs';
import { build } from 'esbuild';

/** What Next does not build: the audio worklet, the server's worker thread, the command line, and the measurements. */
const node = {
  bundle: true,
  platform: 'node',
  target: 'node20',
  // The decoder of AAC may be left out of an installation, so it is looked for when it is needed.
  external: ['better-sqlite3', 'next', 'playwright-core', '@audio/decode-aac'],
  logLevel: 'warning',
  sourcemap: 'linked',
  // Half the time it takes to load them; names stay, for what is said of errors.
  minifyWhitespace: true,
  minifySyntax: true,
};
/** Packages in CommonJS that are bundled into modules may still ask for `require`. */
const REQUIRE = `import { createRequire as undercroftRequire } from 'node:module'; const require = undercroftRequire(import.meta.url);`;

export async function bundle() {
  rmSync('dist/parts', { recursive: true, force: true });
  await Promise.all([
    // In parts, so that a thread loads the decoder of a kind of file only when one comes.
    build({
      ...node,
      format: 'esm',
      splitting: true,
      entryPoints: {
        worker: 'src/server/jobs/worker.ts',
        cli: 'src/cli/main.ts',
        'listen-thread': 'src/cli/listen-thread.ts',
      },
      outdir: 'dist',
      outExtension: { '.js': '.mjs' },
      chunkNames: 'parts/[name]-[hash]',
      banner: { js: REQUIRE },
    }),
    build({
      bundle: true,
      format: 'esm',
      target: 'es2022',
      minify: true,
      entryPoints: { worklet: 'src/engine/worklet.ts', capture: 'src/engine/capture-worklet.ts' },
      outdir: 'public/engine',
      logLevel: 'warning',
    }),
  ]);
}

/** Bundles one measuring program of test/ and gives the path to run. */
export async function bundleProgram(entry, outfile) {
  await build({ ...node, format: 'cjs', entryPoints: [entry], outfile });
  return outfile;
}
