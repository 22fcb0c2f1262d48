'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useState } from 'react';
import type { StoredHit } from '@/contract/views';
import type { ChainStep } from '@/core/treatment/chain';
import { RECIPES } from '@/core/treatment/recipes';
import { useCommands } from '../data/commit';
import { useStore } from '../parts/store';
import { Applied } from './Applied';
import { addChain, copiedChain } from './chains';

/** Adds a chain of steps to hits: a recipe with an amount, or the steps copied from another hit. */
export function RecipeMenu({ hits, label, up = false }: { hits: readonly StoredHit[]; label: string; up?: boolean }) {
  const { commit } = useCommands();
  const copied = useStore(copiedChain);
  const [amount, setAmount] = useState(0.5);
  const [shown, setShown] = useState<readonly StoredHit[] | null>(null);
  const add = (name: string, chain: readonly ChainStep[]) => {
    const what = hits.length === 1 ? hits[0]?.name : `${hits.length} hits`;
    void commit(
      `added ${name} to ${what}`,
      addChain(hits, chain, () => crypto.randomUUID()),
    );
    if (hits.length > 1) setShown(hits);
  };
  return (
    <>
      <Popover className="relative">
        <PopoverButton className="quiet-button whitespace-nowrap">{label}</PopoverButton>
        <PopoverPanel
          anchor={up ? 'top start' : 'bottom end'}
          className="z-30 w-[460px] rounded-lg border border-edge bg-sheet p-2 shadow-lg [--anchor-gap:6px]"
        >
          {({ close }) => (
            <>
              <label className="flex items-center gap-2 px-2 pb-2 text-[12px]">
                Amount
                <input
                  type="range"
                  className="flex-1 accent-verdigris"
                  min={0}
                  max={1}
                  step={0.05}
                  value={amount}
                  onChange={(event) => setAmount(Number(event.target.value))}
                />
                <span className="figure w-[42px] text-right">{Math.round(amount * 100)} %</span>
              </label>
              {RECIPES.map(({ name, help, steps }) => (
                <Entry
                  key={name}
                  name={name}
                  help={help}
                  onClick={() => {
                    add(name.toLowerCase(), steps(amount));
                    close();
                  }}
                />
              ))}
              {copied && copied.chain.length > 0 && (
                <Entry
                  name="Copied steps"
                  help={`the ${copied.chain.length} steps of ${copied.from}`}
                  onClick={() => {
                    add(`the steps of ${copied.from}`, copied.chain);
                    close();
                  }}
                />
              )}
              <p className="px-2 pt-2 text-[12px] text-soft">
                They are added as steps, each of which can be changed or taken out later.
              </p>
            </>
          )}
        </PopoverPanel>
      </Popover>
      {shown && <Applied hits={shown} onClose={() => setShown(null)} />}
    </>
  );
}

function Entry({ name, help, onClick }: { name: string; help: string; onClick: () => void }) {
  return (
    <button
      type="button"
      className="flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-selection"
      onClick={onClick}
    >
      <span className="w-[136px] flex-none">{name}</span>
      <span className="text-[12px] text-soft">{help}</span>
    </button>
  );
}
