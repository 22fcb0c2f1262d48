import type { Stored } from '@/contract/documents';
import type { Plan } from '@/core/recording/plan';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** All cutting plans, by name. */
export function listPlans(db: Db): Stored<Plan>[] {
  return select(db, 'plan', 'ORDER BY name COLLATE NOCASE, id');
}
