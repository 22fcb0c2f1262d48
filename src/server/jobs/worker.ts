import { parentPort, workerData } from 'node:worker_threads';
import { never } from '@/core/errors';
import { openWorkspace } from '../db/open';
import { joinTurns } from '../db/turns';
import { beat, beatByItself, say } from './heart';
import type { ToWorker, WorkerStart } from './protocol';
import type { RoleOf } from './roles/role';

/** Entry point of the server's worker threads; the role decides what a thread does. */
const { workspace, file, role, turns } = workerData as WorkerStart;
joinTurns(turns);
const db = openWorkspace(workspace, { migrate: false, file });
let heard = 0;

/** Loads only the code of the thread's own role, to keep threads small. */
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

// Analysis blocks the event loop for minutes and counts its heartbeat itself. All other roles must keep the event loop running.
if (role !== 'analyse' && role !== 'help') beatByItself();
const played = play();
parentPort?.on('message', (message: ToWorker) => {
  void played.then((hear) => {
    heard++;
    hear(message);
  });
});
