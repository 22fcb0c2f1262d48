import { guard } from '@/server/http/guard';
import { listRecipes } from '@/server/views/recipes';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listRecipes(workspace().db));
