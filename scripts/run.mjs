import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Folder of the project. */
export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command in the project's folder, its output shown; ends this program with its exit code when it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    ...options,
  });
  if (error) throw error;
  if (status !== 0) process.exit(status ?? 1);
}
