import type { Stored } from '@/contract/documents';
import type { Recipe } from '@/core/treatment/model';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** All recipes that people kept, by name. */
export function listRecipes(db: Db): Stored<Recipe>[] {
  return select(db, 'recipe', 'ORDER BY name COLLATE NOCASE, id');
}
