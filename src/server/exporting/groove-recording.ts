import type { RecordGrooveRequest } from '@/contract/hits';
import { resolvedKit } from '@/contract/resolved';
import { UndercroftError } from '@/core/errors';
import { padOfRow } from '@/core/groove/score';
import { recordingsOf } from '@/core/hit/key';
import { LONGEST_NAME } from '@/core/naming/names';
import { combinedRights } from '@/core/rights/rights';
import { commitEdit } from '../history/commit';
import { select } from '../history/tables';
import type { Parts, Printed } from '../hits/print';
import { grooveView } from '../views/grooves';
import { kitView } from '../views/kits';
import { playedPads } from './kit-bundle';

const SAMPLE_RATE = 48_000;

/**
 * Prints a groove as a kit plays it, or one pad of that, to a recording of its own, with the rights of every recording that is
 * heard and a note of where it comes from.
 */
export async function recordGroove(
  { db, threads }: Parts,
  grooveId: string,
  { kitId, padId, seams, ...by }: RecordGrooveRequest,
): Promise<Printed> {
  const { groove, rows, notes } = grooveView(db, grooveId);
  const view = resolvedKit(kitView(db, kitId));
  const struckRows = rows.filter(({ id }) => notes.some(({ rowId }) => rowId === id));
  const struck = new Set(struckRows.flatMap((row) => padOfRow(row, view.pads)?.pad.id ?? []));
  const heard = playedPads(view).filter(({ pad }) => struck.has(pad.id) && (padId === null || pad.id === padId));
  const [only] = heard;
  if (!only)
    throw new UndercroftError(
      'not-found',
      `${view.kit.name} plays none of ${groove.name}: there is nothing to record.`,
    );
  const whom = padId === null ? groove.name : `${groove.name} - ${only.pad.role || only.pad.name}`;
  const name = [...`${whom} by ${view.kit.name}`].slice(0, LONGEST_NAME - 8).join('');
  const { stream } = await threads.maker.bundle({
    ...{ grooveId, kitId },
    options: {
      ...{ isPrivate: true, stems: null, seams, sampleRate: SAMPLE_RATE },
      bare: { pad: padId === null ? null : only.pad.position },
    },
  });
  const options = { fileName: `${name}.wav`, path: '', takeAs: 'recording' as const, prepare: [] };
  const answer = await threads.imports.import(options, null, stream);
  if (answer.duplicate) return { ...answer, touched: [], hitId: null };
  const ids = [...new Set(heard.flatMap(({ layers }) => layers.flatMap(({ hit }) => recordingsOf(hit))))];
  const sources = view.recordings.filter(({ id }) => ids.includes(id));
  const [made] = select(db, 'recording', 'WHERE id = ?', answer.recordingId);
  if (!made) return { ...answer, touched: [], hitId: null };
  const titles = sources.map(({ title }) => title).join(', ');
  const set = {
    ...combinedRights(sources),
    what: 'loop',
    tempoBpm: groove.bpm,
    notes:
      `Printed from the groove ${groove.name}, played by the kit ${view.kit.name}; its sounds are from ${titles}.`.slice(
        0,
        10_000,
      ),
  };
  const change = { op: 'update' as const, doc: 'recording' as const, id: made.id, rev: made.rev, set };
  const { touched } = commitEdit(db, { ...by, label: `recorded ${name}`, changes: [change] });
  return { ...answer, touched, hitId: null };
}
