import { remove, scratch } from '../harness';
import { analysisRow, engineRow, sensitivityRow } from './core';
import { importRows } from './import';
import { pageRows } from './page';
import { printRows, type Row } from './rows';

/**
 * `npm run bench`: speed and size, each beside a reference or a budget, measured now. Exit code 1 where a
 * floor is missed. `npm run bench -- import` measures imports only.
 */
async function main(): Promise<void> {
  const folder = scratch();
  const rows: Row[] = [];
  try {
    const only = process.argv[2];
    if (only === undefined) rows.push(engineRow(), sensitivityRow(), analysisRow(folder));
    const imported = await importRows(folder);
    rows.push(...imported.rows);
    if (only !== 'import') rows.push(...(await pageRows(imported.workspace)));
  } finally {
    remove(folder);
  }
  printRows(rows);
  if (rows.some((row) => row.met === false)) process.exitCode = 1;
}

void main();
