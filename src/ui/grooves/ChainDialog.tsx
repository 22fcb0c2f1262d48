import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import { createStore, useStore } from '../parts/store';
import { useChain } from './use-chain';
import { useGrooveList } from './use-grooves';

/** Whether a chain is being put together. */
export const chaining = createStore(false);

/** Puts grooves in a row, each as often as it is pressed, and has them heard one after another. */
export function ChainDialog() {
  const isOpen = useStore(chaining);
  return isOpen ? <Chain onClose={() => chaining.set(false)} /> : null;
}

function Chain({ onClose }: { onClose: () => void }) {
  const { list = [], openId } = useGrooveList();
  const chain = useChain();
  const [ids, setIds] = useState<readonly string[]>(openId ? [openId] : []);
  const chosen = ids.flatMap((id) => list.find((one) => one.id === id) ?? []);
  const bars = chosen.reduce((sum, one) => sum + one.bars, 0);
  const seconds = (bars * 4 * 60) / (chosen[0]?.bpm ?? 120);
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="flex max-h-full w-[480px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head font-semibold text-[20px]">Grooves in a chain</DialogTitle>
          <p className="mt-1 text-soft">
            Press them in the order in which they are to be heard, each as often as you like.
          </p>
          <div className="mt-3 min-h-0 overflow-auto">
            {list.map(({ id, name, bars: own }) => (
              <button
                key={id}
                type="button"
                className="flex w-full items-baseline gap-3 rounded px-2 py-1 text-left hover:bg-selection"
                onClick={() => setIds([...ids, id])}
              >
                <span className="min-w-0 flex-1 truncate">{name}</span>
                <span className="figure text-[12px] text-soft">{own} bars</span>
              </button>
            ))}
          </div>
          <p className="mt-3 rounded bg-sunk/40 px-3 py-2">
            {chosen.length === 0 ? 'Nothing yet.' : chosen.map(({ name }) => name).join(' → ')}
            {chosen.length > 0 && (
              <span className="figure ml-2 text-[12px] text-soft">
                {bars} bars, some {Math.round(seconds)} s
              </span>
            )}
          </p>
          <div className="mt-4 flex gap-2">
            <button
              type="button"
              className="quiet-button"
              disabled={ids.length === 0}
              onClick={() => setIds(ids.slice(0, -1))}
            >
              Take the last off
            </button>
            <span className="ml-auto" />
            <button type="button" className="quiet-button" onClick={onClose}>
              Cancel
            </button>
            <button
              type="button"
              className="next-button"
              disabled={ids.length === 0}
              onClick={() => {
                onClose();
                void chain(ids);
              }}
            >
              Hear it
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
