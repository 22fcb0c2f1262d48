import { guard } from '@/server/http/guard';
import { kitView } from '@/server/views/kits';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => kitView(workspace().db, params.id ?? ''));
