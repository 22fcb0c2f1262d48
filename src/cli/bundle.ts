import { readFileSync } from 'node:fs';
import { kitSchema } from '@/core/kit/kit-file';
import { openBundle, requireSamples } from '@/core/kit/open-bundle';

/** `undercroft bundle FILE`: tells what is in bundles; fails where one cannot be opened. */
export function runBundle(
  files: readonly string[],
  options: { readonly check: boolean; readonly json: boolean; readonly schema: boolean },
): void {
  if (options.schema) {
    process.stdout.write(`${JSON.stringify(kitSchema(), null, 2)}\n`);
    return;
  }
  if (files.length === 0) throw new Error('Name the bundle to look at: undercroft bundle KIT.zip.');
  let failed = 0;
  for (const path of files) {
    const told = toldOf(path, options.check);
    if (told.error !== null) failed++;
    if (options.json) process.stdout.write(`${JSON.stringify({ bundle: path, ...told })}\n`);
    else if (told.error !== null) process.stdout.write(`${path}: ${told.error}\n`);
    else {
      const seconds = told.seconds === null ? '' : `, ${told.seconds.toFixed(1)} s of sound`;
      process.stdout.write(`${path}: "${told.name}", ${told.pads} pads, ${told.samples} samples${seconds}\n`);
      for (const { title, rightsKind, owner } of told.sources)
        process.stdout.write(`  ${title}: ${rightsKind}${owner ? `, ${owner}` : ''}\n`);
    }
  }
  if (failed > 0) process.exitCode = 1;
}

function toldOf(path: string, whole: boolean) {
  try {
    const opened = openBundle(readFileSync(path));
    const seconds = whole ? requireSamples(opened).seconds : null;
    const { name, author, pads, sources, buses } = opened.file;
    const count = { pads: pads.length, buses: buses.length, samples: opened.samples.size };
    return { error: null, name, author, ...count, seconds, sources };
  } catch (error) {
    return { error: (error as Error).message, name: null, pads: 0, samples: 0, seconds: null, sources: [] };
  }
}
