import { remove, scratch } from '../harness';
import { analysisRow, describingRow, sensitivityRow } from './core';
import { engineRows, fluidsynthRow, stepRows } from './engine';
import { grooveRows } from './grooves';
import { hourOfMono, importRows } from './import';
import { keepingRows, soakRows } from './keeping';
import { kitRows } from './kits';
import { lanesRows, layersRow } from './layers';
import { pageRows } from './page';
import { recordingRows } from './recording';
import { printRows, type Row } from './rows';
import { shelvesRows } from './shelves';
import { treatmentRow, turningRows } from './treatment';
import { voiceRow } from './voices';

/** Parts that can be measured by themselves. */
const PARTS = [
  'core',
  'treatment',
  'layers',
  'import',
  'page',
  'shelves',
  'kits',
  'grooves',
  'recording',
  'keeping',
  'soak',
] as const;
type Part = (typeof PARTS)[number];

/**
 * `npm run bench`: speed and size, each beside a reference or a budget, measured now. Exit code 1 where a floor is missed.
 * `npm run bench -- core`, or another part, measures only that.
 */
async function main(): Promise<void> {
  const only = process.argv[2] as Part | undefined;
  if (only !== undefined && !PARTS.includes(only))
    throw new Error(`There are the parts ${PARTS.join(', ')}; not ${only}.`);
  const wanted = (part: Part) => only === undefined || only === part;
  const folder = scratch();
  const rows: Row[] = [];
  try {
    if (wanted('core'))
      rows.push(
        ...engineRows(),
        ...stepRows(),
        voiceRow(),
        fluidsynthRow(folder),
        sensitivityRow(),
        analysisRow(folder),
        describingRow(folder),
      );
    if (wanted('treatment')) rows.push(treatmentRow(folder), ...(await turningRows(folder)));
    if (wanted('layers')) rows.push(layersRow(folder), ...(await lanesRows(folder)));
    const imported = wanted('import') ? await importRows(folder) : null;
    rows.push(...(imported?.rows ?? []));
    if (wanted('shelves')) rows.push(...(await shelvesRows(folder)));
    if (wanted('kits')) rows.push(...(await kitRows(folder)));
    if (wanted('grooves')) rows.push(...(await grooveRows(folder)));
    if (wanted('recording')) rows.push(...(await recordingRows(folder)));
    if (wanted('keeping')) rows.push(...(await keepingRows(folder)));
    if (wanted('soak')) rows.push(...(await soakRows(folder)));
    if (wanted('page')) rows.push(...(await pageRows(imported?.workspace ?? (await hourOfMono(folder)))));
  } finally {
    remove(folder);
  }
  printRows(rows);
  if (rows.some((row) => row.met === false)) process.exitCode = 1;
}

void main();
