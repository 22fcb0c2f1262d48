import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';

/** Shows a kit that the server has just stored, with its recordings and hits. */
export function useNewKit(): (kitId: string) => void {
  const client = useQueryClient();
  const router = useRouter();
  const { choose } = useKitDesk();
  return useCallback(
    (kitId) => {
      for (const queryKey of [keys.recordings, keys.hits, keys.kits, keys.history])
        void client.invalidateQueries({ queryKey });
      choose(kitId);
      router.push('/kits');
    },
    [client, router, choose],
  );
}
