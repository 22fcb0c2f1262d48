import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { openBundle } from '../data/api';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import type { FileToImport } from './queue';

/** Opens bundles as kits, one after another, and shows the last. */
export function useBundles(): (files: readonly FileToImport[]) => Promise<void> {
  const client = useQueryClient();
  const router = useRouter();
  const { choose } = useKitDesk();
  return useCallback(
    async (files) => {
      for (const { file } of files) {
        tell(`Opening ${file.name} …`);
        try {
          const { kitId, name, pads, known } = await openBundle(file);
          for (const queryKey of [keys.recordings, keys.hits, keys.kits, keys.history])
            void client.invalidateQueries({ queryKey });
          const also = known > 0 ? ` ${known} of its samples ${known === 1 ? 'was' : 'were'} here already.` : '';
          tell(`"${name}" is open: ${pads === 1 ? '1 pad' : `${pads} pads`}.${also} Ctrl Z takes the kit away again.`);
          choose(kitId);
          router.push('/kits');
        } catch (error) {
          complain(`${file.name}: ${(error as Error).message}`);
        }
      }
    },
    [client, router, choose],
  );
}
