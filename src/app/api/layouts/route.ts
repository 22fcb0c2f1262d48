import { guard } from '@/server/http/guard';
import { listNamed } from '@/server/views/named';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listNamed(workspace().db, 'layout'));
