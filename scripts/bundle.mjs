import { build } from 'esbuild';

/** What Next does not build: the audio worklet, the server's worker thread, the command line, and the measurements. */
const node = {
  bundle: true,
  platform: 'node',
  format: 'cjs',
  target: 'node20',
  external: ['better-sqlite3', 'next', 'playwright-core'],
  logLevel: 'warning',
  sourcemap: 'inline',
};

export async function bundle() {
  await Promise.all([
    build({
      ...node,
      entryPoints: { worker: 'src/server/jobs/worker.ts', cli: 'src/cli/main.ts' },
      outdir: 'dist',
      outExtension: { '.js': '.cjs' },
    }),
    build({
      bundle: true,
      format: 'esm',
      target: 'es2022',
      minify: true,
      entryPoints: { worklet: 'src/engine/worklet.ts' },
      outdir: 'public/engine',
      logLevel: 'warning',
    }),
  ]);
}

/** Bundles one measuring program of test/ and gives the path to run. */
export async function bundleProgram(entry, outfile) {
  await build({ ...node, entryPoints: [entry], outfile });
  return outfile;
}
