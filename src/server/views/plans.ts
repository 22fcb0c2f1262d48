import type { Stored } from '@/contract/documents';
import type { Plan } from '@/core/recording/plan';
import type { Db } from '../db/open';
import { columnsOf, fromRow, prepared } from '../history/tables';

/** All cutting plans, by name. */
export function listPlans(db: Db): Stored<Plan>[] {
  return prepared(db, `SELECT ${columnsOf('plan')} FROM plan ORDER BY name COLLATE NOCASE, id`)
    .all()
    .map((row) => fromRow<Stored<Plan>>(row));
}
