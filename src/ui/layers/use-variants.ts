import { useMemo, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import { complain } from '../parts/notice';
import { openSound } from '../sound/open-sound';
import { answered, useAnswer } from '../sound/use-answer';
import { neighboursOf, placed, withHits } from './variants';

/** Columns of a variant's small wave. */
const COLUMNS = 96;

/** Two layers of a layered hit, each with its neighbours in the library, and every pair of them rendered in one go. */
export function useVariants(hit: HitView, recording: RecordingView, hits: readonly HitView[]) {
  const [rowId, setRowId] = useState(hit.members[0]?.id);
  const [columnId, setColumnId] = useState(hit.members[1]?.id);
  const [at, setAt] = useState<readonly [row: number, column: number] | null>(null);
  const row = hit.members.find(({ id }) => id === rowId);
  const column = hit.members.find(({ id }) => id === columnId);
  const rows = useMemo(() => (row ? neighboursOf(hits, row, hit.id) : []), [hits, row, hit.id]);
  const columns = useMemo(() => (column ? neighboursOf(hits, column, hit.id) : []), [hits, column, hit.id]);
  const cells = useMemo(() => {
    const pair = (middle: HitView, sub: HitView) =>
      new Map([...(row ? [[row.id, middle] as const] : []), ...(column ? [[column.id, sub] as const] : [])]);
    return rows.map((middle) => columns.map((sub) => withHits(hit, pair(middle, sub))));
  }, [rows, columns, hit, row, column]);
  const key = `${contentKey(hit)} ${cells.flat().map(contentKey).join(' ')}`;
  const answer = answered(
    useAnswer(key, async (samples) => ({ key, cells: await samples.variants(hit, cells.flat(), recording, COLUMNS) })),
  );
  const found = answer.value?.key === key ? answer.value.cells : null;
  /** A variant as it was rendered; undefined until it is. */
  const variantAt = (r: number, c: number): HitView | undefined => {
    const variant = cells[r]?.[c];
    const of = found?.[r * columns.length + c];
    return variant && of && placed(variant, of);
  };
  const hear = (r: number, c: number) => {
    setAt([r, c]);
    const variant = variantAt(r, c);
    if (!variant) return;
    const { startFrame, endFrame } = variant;
    openSound()
      .then((sound) => sound.audition.play({ hit: { ...variant, id: '' }, recording, startFrame, endFrame }))
      .catch((error: Error) => complain(error.message));
  };
  return { row, column, setRowId, setColumnId, rows, columns, found, error: answer.error, at, variantAt, hear };
}
