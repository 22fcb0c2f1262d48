import { guard } from '@/server/http/guard';
import { storyView } from '@/server/views/recordings';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => storyView(workspace().db, params.id ?? ''));
