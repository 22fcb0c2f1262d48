import { mkdirSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { requeueOutdated } from './analysis/analyse';
import { type Db, openWorkspace, projectRoot } from './db/open';
import { Events } from './events';
import { sweepArriving } from './importing/recording-writer';
import { sweepSpools } from './importing/spool';
import { freeLeases } from './jobs/lease';
import { Threads } from './jobs/threads';

/** Everything the running server holds: one a process. */
export interface Workspace {
  readonly db: Db;
  readonly events: Events;
  readonly threads: Threads;
}

export function workspacePath(): string {
  return resolve(
    /*turbopackIgnore: true*/ process.env.UNDERCROFT_WORKSPACE ?? join(projectRoot(), 'workspace', 'undercroft.db'),
  );
}

// Next may load this module more than once (routes, instrumentation); the workspace must be one all the same.
const held = globalThis as { undercroftWorkspace?: Workspace };

/** Opens the workspace on first use: migrates, sweeps what never arrived, and takes up waiting jobs. */
export function workspace(): Workspace {
  if (held.undercroftWorkspace) return held.undercroftWorkspace;
  const path = workspacePath();
  mkdirSync(dirname(path), { recursive: true });
  const db = openWorkspace(path);
  sweepArriving(db);
  sweepSpools(db);
  freeLeases(db);
  requeueOutdated(db);
  const events = new Events();
  const threads = new Threads(path, (message) => {
    if (message.type === 'progress')
      events.send({ type: 'analysis', recordingId: message.recordingId, progress: message.progress });
    else if (message.type === 'removed') events.send({ type: 'recordings' });
    else if (message.type === 'described')
      events.send({ type: 'described', recordingId: message.recordingId, whole: false, error: null });
    else {
      if (message.error) console.error(`${message.kind} ${message.recordingId}: ${message.error}`);
      if (message.kind === 'rhythm') return;
      if (message.kind === 'describe') {
        events.send({ type: 'described', recordingId: message.recordingId, whole: true, error: message.error });
        return;
      }
      events.send({ type: 'analysis', recordingId: message.recordingId, progress: 1 });
      events.send({ type: 'recordings' });
      events.send({ type: 'hits' });
    }
  });
  held.undercroftWorkspace = { db, events, threads };
  threads.wake();
  return held.undercroftWorkspace;
}
