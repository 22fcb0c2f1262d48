import { mkdirSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { UndercroftError } from '@/core/errors';
import { requeueOutdated } from './analysis/analyse';
import { lockWorkspace, realPath, type WorkspaceLock } from './db/lock';
import { type Db, fileAt, openWorkspace, projectRoot, unopened } from './db/open';
import { keepReserve } from './db/reserve';
import { Events } from './events';
import { expireLeases, freeLeases } from './jobs/lease';
import { Threads } from './jobs/threads';
import { RenderStore } from './renders/store';
import { freeWhenIdle } from './rubbish';

/** State of the running server, one a process. */
export interface Workspace {
  readonly db: Db;
  readonly events: Events;
  readonly threads: Threads;
  /** Rendered hits. */
  readonly renders: RenderStore;
}

interface Held {
  readonly workspace: Workspace;
  /** Identity of the open file, whatever lies at its path now. */
  readonly file: string;
}

export function workspacePath(): string {
  return resolve(
    /*turbopackIgnore: true*/ process.env.UNDERCROFT_WORKSPACE ?? join(projectRoot(), 'workspace', 'undercroft.db'),
  );
}

// Next may load this module more than once (routes, instrumentation); the state is shared through `globalThis`.
const process_ = globalThis as { undercroftHeld?: Held; undercroftLock?: WorkspaceLock };

/** Interval at which the reserve is allocated again after it was freed. */
const RESERVE_MS = 30_000;

/** Locks the workspace for this process, and checks that it can be opened. Throws `unavailable` with the reason. */
export function claimWorkspace(): WorkspaceLock {
  const path = workspacePath();
  try {
    mkdirSync(dirname(path), { recursive: true });
  } catch (error) {
    throw unopened(path, error);
  }
  process_.undercroftLock ??= lockWorkspace(path);
  try {
    openWorkspace(path).close();
  } catch (error) {
    process_.undercroftLock.release();
    delete process_.undercroftLock;
    throw error;
  }
  return process_.undercroftLock;
}

/**
 * The workspace, opened on first use: unfinished imports are deleted, waiting jobs resumed. Throws `unavailable` where
 * it cannot be opened, or where its file was replaced: writes would be lost.
 */
export function workspace(): Workspace {
  const held = process_.undercroftHeld ?? open();
  if (fileAt(workspacePath()) !== held.file) {
    throw new UndercroftError(
      'unavailable',
      `The workspace ${workspacePath()} was moved, replaced or deleted while the application was running. Nothing more is saved to it: put the file back where it was, or stop the application and start it again.`,
    );
  }
  return held.workspace;
}

function open(): Held {
  claimWorkspace();
  const path = realPath(workspacePath());
  const db = openWorkspace(path);
  try {
    freeLeases(db);
    requeueOutdated(db);
  } catch (error) {
    // Jobs are resumed at the next start; the workspace is opened anyway.
    console.error('Waiting jobs could not be looked through:', error);
  }
  const events = new Events();
  const file = fileAt(path);
  const threads = new Threads(
    path,
    file,
    (message) => {
      events.tellOf(message);
      if (message.type === 'recovered') held.workspace.threads.wake();
    },
    () => {
      try {
        expireLeases(db);
      } catch (error) {
        // They expire by themselves.
        console.error('Leases could not be ended:', error);
      }
    },
  );
  const held: Held = { workspace: { db, events, threads, renders: RenderStore.of(path) }, file };
  process_.undercroftHeld = held;
  keepReserve(path);
  setInterval(() => keepReserve(path), RESERVE_MS).unref();
  freeWhenIdle();
  threads.imports.sweep();
  threads.wake();
  return held;
}
