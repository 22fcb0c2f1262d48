import { guard } from '@/server/http/guard';
import { listGrooves } from '@/server/views/grooves';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listGrooves(workspace().db));
