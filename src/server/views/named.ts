import type { DocOf, Stored } from '@/contract/documents';
import type { NamedDoc } from '@/contract/kinds';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** All documents of a kind that is listed whole, by name. */
export function listNamed<D extends NamedDoc>(db: Db, doc: D): Stored<DocOf<D>>[] {
  return select(db, doc, 'ORDER BY name COLLATE NOCASE, id');
}
