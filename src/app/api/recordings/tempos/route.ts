import { guard } from '@/server/http/guard';
import { listTempos } from '@/server/views/tempos';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listTempos(workspace().db));
