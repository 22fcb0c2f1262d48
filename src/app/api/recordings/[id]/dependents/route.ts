import { guard } from '@/server/http/guard';
import { dependentsOf } from '@/server/importing/discard';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => dependentsOf(workspace().db, params.id ?? ''));
