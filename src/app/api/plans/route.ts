import { guard } from '@/server/http/guard';
import { listPlans } from '@/server/views/plans';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listPlans(workspace().db));
