import { guard } from '@/server/http/guard';
import { listPerformances } from '@/server/views/performances';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listPerformances(workspace().db));
