/**
 * Who writes next. SQLite has one writer at a time and lets those who wait try again after a while, so that a thread that writes
 * without pause would keep edits waiting. A person's edit is announced here; bulk work waits between its transactions until no edit
 * does.
 */
const held = globalThis as { undercroftTurns?: Int32Array };

/** The count of edits that wait, shared by all threads of the server. */
export function sharedTurns(): Int32Array {
  held.undercroftTurns ??= new Int32Array(new SharedArrayBuffer(4));
  return held.undercroftTurns;
}

/** Called once in each worker thread. */
export function joinTurns(shared: Int32Array): void {
  held.undercroftTurns = shared;
}

/** Does an edit's work ahead of bulk work. */
export function ahead<T>(work: () => T): T {
  const turns = sharedTurns();
  Atomics.add(turns, 0, 1);
  try {
    return work();
  } finally {
    Atomics.sub(turns, 0, 1);
    Atomics.notify(turns, 0);
  }
}

/** No edit is so long; should one be, bulk work does not wait for ever. */
const LONGEST_WAIT_MS = 500;

/** Lets edits that wait go first; for worker threads only, which may stand still. */
export function letEditsPass(): void {
  const turns = sharedTurns();
  const waiting = Atomics.load(turns, 0);
  if (waiting > 0) Atomics.wait(turns, 0, waiting, LONGEST_WAIT_MS);
}
