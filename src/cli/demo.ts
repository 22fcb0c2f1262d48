import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { projectRoot } from '@/server/db/open';
import { makeDemoWorkspace } from './demo-data';
import { runServe, type ServeOptions } from './serve';

export async function runDemo(options: ServeOptions & { onlyMake: boolean }): Promise<void> {
  const path = resolve(options.workspace ?? join(projectRoot(), 'workspace', 'demo.db'));
  if (existsSync(path)) process.stderr.write(`Using the demo workspace at ${path} as it was left.\n`);
  else {
    process.stderr.write('Making the demo recordings ...\n');
    await makeDemoWorkspace(path);
  }
  if (!options.onlyMake) await runServe({ ...options, workspace: path });
}
