'use client';

import { type ReactNode, useState } from 'react';

/** Loupes and table in one place, for windows that are too low for both. */
export function LowTabs({ loupes, slices }: { loupes: ReactNode; slices: ReactNode }) {
  const [shown, setShown] = useState<'loupes' | 'slices'>('loupes');
  const tab = (which: typeof shown, label: string) => (
    <button
      type="button"
      role="tab"
      aria-selected={shown === which}
      className={`h-7 border-b-2 px-3 text-[12px] ${shown === which ? 'border-verdigris font-semibold' : 'border-transparent text-soft'}`}
      onClick={() => setShown(which)}
    >
      {label}
    </button>
  );
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div role="tablist" className="flex h-7 flex-none bg-paper">
        {tab('loupes', 'Loupes')}
        {tab('slices', 'Slices')}
      </div>
      <div className="flex min-h-0 flex-1">
        {shown === 'slices' ? (
          slices
        ) : (
          <div className="flex min-h-0 min-w-0 flex-1 flex-col overflow-hidden">{loupes}</div>
        )}
      </div>
    </div>
  );
}
