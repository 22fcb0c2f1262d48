import { guard } from '@/server/http/guard';
import { grooveView } from '@/server/views/grooves';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => grooveView(workspace().db, params.id ?? ''));
