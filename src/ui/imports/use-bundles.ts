import { useCallback } from 'react';
import type { FileToImport } from './queue';
import { useNewKit } from './use-new-kit';

/** Opens bundles as kits; how is loaded with the first. */
export function useBundles(): (files: readonly FileToImport[]) => void {
  const show = useNewKit();
  return useCallback(
    (files) => {
      if (files.length > 0) void import('./open-bundles').then(({ openBundles }) => openBundles(files, show));
    },
    [show],
  );
}
