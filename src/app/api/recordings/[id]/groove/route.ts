import { grooveOf } from '@/server/analysis/rhythm';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** The rhythm of a recording as a groove of roles, with ids of its own; nothing is stored. */
export const GET = guard({}, ({ params }) => grooveOf(workspace().db, params.id ?? ''));
