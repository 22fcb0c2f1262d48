'use client';

import { useEffect } from 'react';
import type { RelayMode } from '../pads/laying';

/** How long it stands, in ms. */
const STANDS_MS = 8000;

const WAYS: readonly (readonly [RelayMode, string, string])[] = [
  ['instead', 'Instead', 'the old sound leaves the pad'],
  ['take', 'As another take', 'kept with the pad, to be played instead'],
  ['next', 'Next free pad', 'the old sound stays alone'],
];

interface LaidBesideProps {
  /** Middle and top of the pad, in pixels of the window. */
  readonly x: number;
  readonly y: number;
  readonly name: string;
  readonly onRelay: (mode: RelayMode) => void;
  readonly onClose: () => void;
}

/** Says that a sound lies beside the one its pad had, and offers the other ways; the page goes on under it. */
export function LaidBeside({ x, y, name, onRelay, onClose }: LaidBesideProps) {
  useEffect(() => {
    const timer = setTimeout(onClose, STANDS_MS);
    const leave = (event: KeyboardEvent) => event.key === 'Escape' && onClose();
    window.addEventListener('keydown', leave);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('keydown', leave);
    };
  }, [onClose]);
  return (
    <div
      role="toolbar"
      aria-label="How it lies on the pad"
      className="fixed z-30 flex -translate-x-1/2 -translate-y-full items-center gap-1 rounded-lg border border-edge bg-sheet p-1 shadow-lg"
      style={{ left: Math.max(260, Math.min(window.innerWidth - 260, x)), top: Math.max(60, y - 6) }}
    >
      <span className="max-w-[170px] truncate px-2 text-[12px] text-soft">Beside {name}</span>
      {WAYS.map(([mode, label, what]) => (
        <button key={mode} type="button" className="quiet-button" title={what} onClick={() => onRelay(mode)}>
          {label}
        </button>
      ))}
    </div>
  );
}
