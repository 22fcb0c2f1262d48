import { createStore, useStore } from '../parts/store';
import { RequestError } from './api';

/** State of saving, for the status line. */
export interface Saving {
  /** Open requests that store something. */
  readonly open: number;
  /** Fetches of what was stored: until then the page may show, and build on, an older state. */
  readonly showing: number;
  /** The last request got no answer; open ones are retried. */
  readonly away: boolean;
  /** Reason, where the server answers but cannot reach the workspace. */
  readonly reason: string;
}

const state = createStore<Saving>({ open: 0, showing: 0, away: false, reason: '' });

const change = (set: (old: Saving) => Partial<Saving>) => {
  const old = state.get();
  state.set({ ...old, ...set(old) });
};

export const saving = {
  begin: () => change(({ open }) => ({ open: open + 1 })),
  /** `shown` settles when the page shows what was stored. */
  end: (shown: Promise<unknown>) => {
    change(({ open, showing }) => ({ open: open - 1, showing: showing + 1 }));
    void shown.finally(() => change(({ showing }) => ({ showing: showing - 1 })));
  },
  away: (reason = '') => {
    if (!state.get().away || state.get().reason !== reason) change(() => ({ away: true, reason }));
  },
  /** The server answers again: retry waiting requests at once. */
  back: () => {
    if (!state.get().away) return;
    change(() => ({ away: false, reason: '' }));
    for (const go of [...waiting]) go();
  },
  get: state.get,
};

const waiting = new Set<() => void>();

export function useSaving(): Saving {
  return useStore(state);
}

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 5000;

/**
 * Sends an idempotent request until the server answers, however long that takes. `answered` distinguishes an error
 * answer from an unreachable server.
 */
export async function untilAnswered<T>(work: () => Promise<T>, answered: (error: unknown) => boolean): Promise<T> {
  for (let wait = FIRST_WAIT_MS; ; wait = Math.min(LONGEST_WAIT_MS, 2 * wait)) {
    try {
      const answer = await work();
      saving.back();
      return answer;
    } catch (error) {
      if (answered(error)) {
        saving.back();
        throw error;
      }
      saving.away(error instanceof RequestError ? error.message : '');
      await new Promise<void>((resolve) => {
        const go = () => {
          clearTimeout(timer);
          waiting.delete(go);
          resolve();
        };
        const timer = setTimeout(go, wait);
        waiting.add(go);
      });
    }
  }
}
