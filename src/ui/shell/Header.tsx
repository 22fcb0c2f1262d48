'use client';

import { History, Lamp, Sun } from 'lucide-react';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';
import { useCommands } from '../data/commit';
import { useHistory } from '../data/queries';
import { OutputMeter } from './OutputMeter';
import { PLACES, useSliceAddress } from './places';

export function Header({ onBox, onHistory }: { onBox: () => void; onHistory: () => void }) {
  const path = usePathname();
  const slice = useSliceAddress();
  return (
    <header className="@container print:hidden flex h-10 flex-none items-center gap-2 overflow-hidden border-b border-line bg-paper px-4">
      <span className="mr-4 @max-[1100px]:mr-1 font-head text-[20px] font-semibold tracking-tight">Undercroft</span>
      <nav aria-label="Places" className="flex items-center gap-1">
        {PLACES.map(([href, label, key]) => {
          const here = path === href || path?.startsWith(`${href}/`);
          return (
            <Link
              key={href}
              href={href === '/slice' ? slice : href}
              aria-current={here ? 'page' : undefined}
              title={`Ctrl Shift ${key}`}
              className={`rounded-md px-[11px] py-[5px] @max-[1100px]:px-2 ${here ? 'border-verdigris border-b-2 bg-sheet font-bold' : 'text-soft hover:text-ink'}`}
            >
              {label}
            </Link>
          );
        })}
      </nav>
      <div className="ml-auto flex items-center gap-2">
        <button type="button" className="quiet-button text-soft" onClick={onBox}>
          <span className="@max-[1100px]:hidden">Find or do … </span>
          <span className="figure ml-1">Ctrl K</span>
        </button>
        <UndoButtons onHistory={onHistory} />
        <ThemeButton />
        <OutputMeter />
      </div>
    </header>
  );
}

function UndoButtons({ onHistory }: { onHistory: () => void }) {
  const { undo, redo } = useCommands();
  const { data } = useHistory();
  const last = data?.entries.find((e) => e.state === 'done');
  const next = data?.redo ?? null;
  return (
    <>
      <button
        type="button"
        className="quiet-button max-w-[240px] truncate @max-[1100px]:max-w-[150px]"
        disabled={!last}
        onClick={() => void undo()}
        title="Ctrl Z"
      >
        {last ? `Undo: ${last.label}` : 'Nothing to undo'}
      </button>
      <button
        type="button"
        className="quiet-button"
        disabled={next === null}
        onClick={() => void redo()}
        title={next !== null ? `Redo: ${next} (Ctrl Shift Z)` : 'Nothing to redo'}
      >
        Redo
      </button>
      <button
        type="button"
        className="quiet-button px-[7px]"
        aria-label="History"
        title="All that was done, to take single things back (F7)"
        onClick={onHistory}
      >
        <History size={15} />
      </button>
    </>
  );
}

export function setTheme(theme: 'daylight' | 'lamplight'): void {
  document.documentElement.dataset.theme = theme;
  localStorage.setItem('undercroft.theme', theme);
}

function ThemeButton() {
  const [theme, setShown] = useState('daylight');
  useEffect(() => setShown(document.documentElement.dataset.theme ?? 'daylight'), []);
  const other = theme === 'daylight' ? 'lamplight' : 'daylight';
  return (
    <button
      type="button"
      className="quiet-button px-[7px]"
      aria-label={`Change to ${other}`}
      title={`Change to ${other}`}
      onClick={() => {
        setTheme(other);
        setShown(other);
      }}
    >
      {theme === 'daylight' ? <Lamp size={15} /> : <Sun size={15} />}
    </button>
  );
}
