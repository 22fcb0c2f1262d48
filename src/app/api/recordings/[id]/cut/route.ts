import { guard } from '@/server/http/guard';
import { cutView } from '@/server/views/recordings';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => cutView(workspace().db, params.id ?? ''));
