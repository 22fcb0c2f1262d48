import { cancelScan, scanFolder } from '@/server/folders/scan';
import { readFolder } from '@/server/folders/store';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Begins a scan; how it goes is told on the event stream. */
export const POST = guard({}, ({ params }) => {
  const { db, threads, events } = workspace();
  const { id } = readFolder(db, params.id ?? '');
  const helpers = { imports: threads.imports, wake: () => threads.wake() };
  void scanFolder(db, helpers, id, (scan) => {
    events.send({ type: 'scan', scan });
    events.send({ type: 'recordings' });
  });
  return { started: id };
});

/** Stops the scan that runs; what it has taken in stays. */
export const DELETE = guard({}, async ({ params }) => {
  await cancelScan(params.id ?? '');
  return { stopped: params.id };
});
