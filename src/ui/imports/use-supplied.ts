import { useCallback } from 'react';
import { putSupplied } from '../data/kit-api';
import { complain, tell } from '../parts/notice';
import { useNewKit } from './use-new-kit';

/** Puts the starter kit and its hits into the workspace, and opens it. */
export function useSupplied(): () => Promise<void> {
  const show = useNewKit();
  return useCallback(async () => {
    tell('Making the starter kit …');
    try {
      const { kitId, name, hits, known } = await putSupplied();
      tell(
        known
          ? `"${name}" is here already.`
          : `"${name}" is open, and ${hits} hits of it are on Hits, marked as supplied. Ctrl Z takes them away again.`,
      );
      show(kitId);
    } catch (error) {
      complain(`The starter kit could not be put in: ${(error as Error).message}`);
    }
  }, [show]);
}
