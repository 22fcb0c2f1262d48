import type { Stored } from '@/contract/documents';
import type { Performance } from '@/core/midi/performance';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** All performances that people kept, by name. */
export function listPerformances(db: Db): Stored<Performance>[] {
  return select(db, 'performance', 'ORDER BY name COLLATE NOCASE, id');
}
