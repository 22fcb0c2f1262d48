'use client';

import { Lamp, Sun } from 'lucide-react';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';
import { toDb } from '@/core/signal/units';
import { useCommands } from '../data/commit';
import { useHistory } from '../data/queries';
import { minus } from '../parts/figures';
import { soundNow } from '../sound/sound';

const PLACES = [
  ['/recordings', 'Recordings'],
  ['/slice', 'Slice'],
  ['/hits', 'Hits'],
  ['/kits', 'Kits'],
] as const;

export function Header({ onBox }: { onBox: () => void }) {
  const path = usePathname();
  const [slice, setSlice] = useState('/slice');
  // Where Slice was left, so that going elsewhere and back loses nothing.
  useEffect(() => {
    const id = path?.startsWith('/slice/') ? path.slice('/slice/'.length) : sessionStorage.getItem('undercroft.slice');
    if (id) setSlice(`/slice/${id}`);
  }, [path]);
  return (
    <header className="flex h-10 flex-none items-center gap-2 border-b border-line bg-paper px-4">
      <span className="mr-4 font-head text-[20px] font-semibold tracking-tight">Undercroft</span>
      <nav aria-label="Places" className="flex items-center gap-1">
        {PLACES.map(([href, label]) => {
          const here = path?.startsWith(href);
          return (
            <Link
              key={href}
              href={href === '/slice' ? slice : href}
              aria-current={here ? 'page' : undefined}
              className={`rounded-md px-[11px] py-[5px] ${here ? 'border-verdigris border-b-2 bg-sheet font-bold' : 'text-soft hover:text-ink'}`}
            >
              {label}
            </Link>
          );
        })}
      </nav>
      <div className="ml-auto flex items-center gap-2">
        <button type="button" className="quiet-button text-soft" onClick={onBox}>
          Find or do … <span className="figure ml-1">Ctrl K</span>
        </button>
        <UndoButtons />
        <ThemeButton />
        <OutputPeak />
      </div>
    </header>
  );
}

function UndoButtons() {
  const { undo, redo } = useCommands();
  const { data } = useHistory();
  const last = data?.entries.find((e) => e.state === 'done');
  const next = data?.entries.filter((e) => e.state === 'undone').at(-1);
  return (
    <>
      <button
        type="button"
        className="quiet-button max-w-[240px] truncate"
        disabled={!last}
        onClick={() => void undo()}
        title="Ctrl Z"
      >
        {last ? `Undo: ${last.label}` : 'Nothing to undo'}
      </button>
      <button
        type="button"
        className="quiet-button"
        disabled={!next}
        onClick={() => void redo()}
        title={next ? `Redo: ${next.label} (Ctrl Shift Z)` : 'Nothing to redo'}
      >
        Redo
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

/** The output's peak, read from the audio thread's shared state ten times a second. */
function OutputPeak() {
  const [text, setText] = useState('−∞ dBFS');
  useEffect(() => {
    const timer = setInterval(() => {
      const db = toDb(soundNow()?.engine.peak ?? 0);
      setText(db > -90 ? `${minus(db.toFixed(1))} dBFS` : '−∞ dBFS');
    }, 100);
    return () => clearInterval(timer);
  }, []);
  return (
    <span className="figure w-[86px] text-right text-[12px] text-soft" title="Peak of the output">
      {text}
    </span>
  );
}
