import { existsSync } from 'node:fs';
import { checkWorkspace, type Fault, type Findings } from '@/server/checking/check';
import { lockWorkspace } from '@/server/db/lock';
import { openWorkspace, pendingSteps } from '@/server/db/open';
import { workspacePath } from '@/server/workspace';

interface CheckOptions {
  readonly workspace?: string;
  readonly json: boolean;
  readonly mend?: boolean;
}

/**
 * `undercroft check`: reports faults of a workspace and their remedies. With `--mend` it locks the workspace, applies
 * the remedies and checks again.
 */
export function runCheck({ workspace, json, mend = false }: CheckOptions): void {
  const path = workspace ?? workspacePath();
  if (!existsSync(path)) throw new Error(`There is no workspace at ${path}.`);
  const lock = mend ? lockWorkspace(path) : null;
  const db = openWorkspace(path, { migrate: mend });
  try {
    if (pendingSteps(db) > 0)
      throw new Error(
        `The workspace ${path} is of an earlier version. Open it with this one first ("undercroft serve"), or check it with --mend, which brings it up to date.`,
      );
    let findings = checkWorkspace(db);
    const mended = mend ? mendAll(findings.faults, json) : [];
    if (mended.length > 0) findings = checkWorkspace(db);
    tell(path, findings, mended, { json, mend });
    if (findings.faults.length > 0) process.exitCode = 1;
  } finally {
    db.close();
    lock?.release();
  }
}

/** Applies all remedies, after listing them. Returns what was done. */
function mendAll(faults: readonly Fault[], json: boolean): string[] {
  const mends = faults.flatMap(({ mend }) => mend ?? []);
  if (mends.length === 0) return [];
  const say = (line: string) => (json ? process.stderr : process.stdout).write(`${line}\n`);
  say(`To be mended: ${mends.length} of ${faults.length} faults. This will`);
  for (const { does } of mends) say(`- ${does}`);
  for (const mend of mends) mend.run();
  return mends.map(({ does }) => does);
}

function tell(
  path: string,
  { faults, counts }: Findings,
  mended: readonly string[],
  { json, mend }: { json: boolean; mend: boolean },
): void {
  if (json) {
    const told = faults.map(({ text }) => text);
    const mends = faults.flatMap((fault) => fault.mend?.does ?? []);
    process.stdout.write(`${JSON.stringify({ path, counts, faults: told, canBeMended: mends, mended })}\n`);
    return;
  }
  for (const fault of faults)
    process.stdout.write(`${fault.text}${fault.mend && !mend ? `\n  (--mend would ${fault.mend.does})` : ''}\n`);
  if (mended.length > 0) process.stdout.write(`Mended: ${mended.length}.\n`);
  const what = Object.entries(counts)
    .filter(([name, n]) => name !== 'arriving' || n > 0)
    .map(([name, n]) => `${n} ${name}`);
  process.stdout.write(`${what.join(', ')}: ${faults.length === 0 ? 'all sound' : `${faults.length} faults`}\n`);
}
