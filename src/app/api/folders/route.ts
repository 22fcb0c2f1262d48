import { WatchRequest } from '@/contract/imports';
import { listFolders, watchFolder } from '@/server/folders/store';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listFolders(workspace().db));

export const POST = guard({ body: WatchRequest }, ({ body }) => ({ id: watchFolder(workspace().db, body) }));
