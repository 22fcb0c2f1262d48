import { guard } from '@/server/http/guard';
import { listKits } from '@/server/views/kits';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listKits(workspace().db));
