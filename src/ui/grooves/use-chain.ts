import { useCallback } from 'react';
import type { GrooveView } from '@/contract/views';
import { chained } from '@/core/groove/chain';
import { getJson } from '../data/api';
import { complain } from '../parts/notice';
import { player } from './player';
import { offered, trial } from './trial';
import { useGrooveList } from './use-grooves';

const newId = () => crypto.randomUUID();

/**
 * Plays grooves one after another, as something to be kept or not: a kit is judged by more than one of them.
 */
export function useChain(): (ids: readonly string[]) => Promise<void> {
  const { add } = useGrooveList();
  return useCallback(
    async (ids) => {
      try {
        const views = await Promise.all(ids.map((id) => getJson<GrooveView>(`/api/grooves/${id}`)));
        const name = views.map(({ groove }) => groove.name).join(' → ');
        const whole = chained(views, name.slice(0, 100), newId);
        if (!whole) return;
        const offers = [{ name: name.length > 60 ? `${name.slice(0, 57)} …` : name, view: offered(whole) }];
        trial.set({ of: 'a chain', offers, at: 0, keep: ({ view }) => void add(view, 'kept the chain') });
        if (!player.running.get()) setTimeout(() => void player.play(), 0);
      } catch (error) {
        complain(`The chain could not be made: ${(error as Error).message}`);
      }
    },
    [add],
  );
}
