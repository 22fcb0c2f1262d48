import { UsesRequest } from '@/contract/hits';
import { usesOf } from '@/server/hits/remove';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** What hangs on some hits; asked for by POST, since there may be thousands. */
export const POST = guard({ body: UsesRequest }, ({ body }) => usesOf(workspace().db, body.ids));
