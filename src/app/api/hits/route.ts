import { guard } from '@/server/http/guard';
import { listHits } from '@/server/views/hits';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listHits(workspace().db));
