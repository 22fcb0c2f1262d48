import { parentPort, workerData } from 'node:worker_threads';
import { never } from '@/core/errors';
import { openWorkspace } from '../db/open';
import { joinTurns } from '../db/turns';
import { beat, beatByItself, say } from './heart';
import type { ToWorker, WorkerStart } from './protocol';
import type { RoleOf } from './roles/role';

/** The entry of the server's worker threads; what a thread does goes by its role. */
const { workspace, file, role, turns } = workerData as WorkerStart;
joinTurns(turns);
const db = openWorkspace(workspace, { migrate: false, file });
let heard = 0;

/** Each role is loaded where it is played: the threads are small that way. */
async function play(): Promise<RoleOf> {
  const stage = { db, workspace, say, beat, quiet: () => say({ type: 'quiet', heard }) };
  switch (role) {
    case 'import':
      return (await import('./roles/receiving')).receiving(stage);
    case 'decode':
      return (await import('./roles/decoding')).decoding(stage);
    case 'analyse':
      return (await import('./roles/listening')).listening(stage);
    case 'help':
      return (await import('./roles/listening')).helping(stage);
    case 'make':
      return (await import('./roles/making')).making(stage);
    case 'render':
      return (await import('./roles/rendering')).rendering(stage);
    default:
      return never(role);
  }
}

// Those who listen tell of themselves as they go: their work gives no turn for minutes. The others must have turns all the time.
if (role !== 'analyse' && role !== 'help') beatByItself();
const played = play();
parentPort?.on('message', (message: ToWorker) => {
  void played.then((hear) => {
    heard++;
    hear(message);
  });
});
