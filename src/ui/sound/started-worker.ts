import * as Comlink from 'comlink';

/** Between two attempts to load a worker's script. */
const AGAIN_MS = 1000;

/**
 * A worker that is ready. Its script may not be there for a while, as when the server is away: then it is started again until it
 * is. Any other fault of the script is thrown.
 */
export async function startedWorker<T>(
  start: () => Worker,
  ready: (worker: Comlink.Remote<T>) => Promise<unknown>,
): Promise<Comlink.Remote<T>> {
  for (;;) {
    const thread = start();
    const worker = Comlink.wrap<T>(thread);
    const fault = new Promise<string>((resolve) => {
      thread.addEventListener('error', (event) => {
        const { message = '' } = event as Partial<ErrorEvent>;
        // The page need not complain of what it mends.
        if (isUnloaded(message)) event.preventDefault();
        resolve(message);
      });
    });
    const said = await Promise.race([ready(worker).then(() => null), fault]);
    if (said === null) return worker;
    thread.terminate();
    if (!isUnloaded(said)) throw new Error(said);
    await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
  }
}

/** Whether a worker's fault is that a script of it could not be fetched; where the first one could not, nothing is said. */
function isUnloaded(message: string): boolean {
  return message === '' || /importScripts|NetworkError|Failed to fetch/.test(message);
}
