/**
 * Priority of writers. SQLite has one writer at a time and lets waiting ones retry, so a thread that writes without
 * pause would starve edits. A person's edit is announced here; bulk work pauses between its transactions while an edit
 * waits.
 */
const held = globalThis as { undercroftTurns?: Int32Array };

/** Number of waiting edits, shared by all threads of the server. */
export function sharedTurns(): Int32Array {
  held.undercroftTurns ??= new Int32Array(new SharedArrayBuffer(4));
  return held.undercroftTurns;
}

/** Called once in each worker thread. */
export function joinTurns(shared: Int32Array): void {
  held.undercroftTurns = shared;
}

/** Runs an edit with priority over bulk work. */
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

/** No edit takes this long; if one does, bulk work continues. */
const LONGEST_WAIT_MS = 500;

/** Lets waiting edits go first; blocks, so for worker threads only. */
export function letEditsPass(): void {
  const turns = sharedTurns();
  const waiting = Atomics.load(turns, 0);
  if (waiting > 0) Atomics.wait(turns, 0, waiting, LONGEST_WAIT_MS);
}
