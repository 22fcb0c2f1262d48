import { guard } from '@/server/http/guard';
import { ListQuery } from '@/server/http/list-query';
import { HITS, listHits } from '@/server/views/hits';
import { listPage } from '@/server/views/listing';
import { workspace } from '@/server/workspace';

/** All hits; with `paged` a page of them, or what has changed since an earlier one. */
export const GET = guard({ query: ListQuery }, ({ query }) => {
  const { db } = workspace();
  return query.paged ? listPage(db, HITS, query) : listHits(db);
});
