import { cancelScan } from '@/server/folders/scan';
import { forgetFolder } from '@/server/folders/store';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const DELETE = guard({}, async ({ params }) => {
  await cancelScan(params.id ?? '');
  forgetFolder(workspace().db, params.id ?? '');
  return { removed: params.id };
});
