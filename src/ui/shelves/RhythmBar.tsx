'use client';

import { Play, Square } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Rebuilding } from '@/worker/hearing.worker';
import { decibels, seconds } from '../parts/figures';
import type { From, Playing } from './use-rhythm';

/** Plays the recording from its slices in its own rhythm, against the source, and shows how much they differ. */
export function RhythmBar({
  rhythm,
  rebuilt,
  children,
}: {
  rhythm: Playing;
  rebuilt: Rebuilding | null;
  children?: ReactNode;
}) {
  const side = (from: From, label: string, title: string) => (
    <button
      type="button"
      aria-pressed={rhythm.from === from}
      title={title}
      className={`h-6 whitespace-nowrap rounded px-2 ${rhythm.from === from ? 'bg-ink text-on-ink' : 'hover:bg-sheet'}`}
      onClick={() => rhythm.setFrom(from)}
    >
      {label}
    </button>
  );
  return (
    <fieldset
      aria-label="Rebuild"
      className="flex h-8 min-w-0 flex-none items-center gap-2 border-line border-b bg-paper px-4 text-[12px]"
    >
      <button
        type="button"
        className="flex h-6 flex-none items-center gap-1 whitespace-nowrap rounded px-2 hover:bg-sheet"
        aria-pressed={rhythm.playing}
        title="Play the recording from its slices, by its own rhythm, again and again"
        onClick={rhythm.toggle}
      >
        {rhythm.playing ? <Square size={12} aria-hidden /> : <Play size={12} aria-hidden />}
        {rhythm.playing ? 'Stop' : 'Play by its own rhythm'}
      </button>
      <span aria-hidden className="h-4 w-px bg-line" />
      {side('slices', 'From slices', 'Each stroke plays its own slice')}
      {side('kit', 'Kit', 'Each stroke plays the pad of the current kit that its shelf lies on')}
      {side('source', 'Source', 'The recording itself')}
      <span aria-hidden className="h-4 w-px bg-line" />
      {children}
      <output className="min-w-0 flex-1 truncate text-right text-soft" title={rebuilt ? inFull(rebuilt) : undefined}>
        {rebuilt && told(rebuilt)}
      </output>
    </fieldset>
  );
}

function told({ asCut, goingOn }: Rebuilding): string {
  if (asCut.identical) return 'From its slices: identical, bit for bit';
  const most = `${decibels(asCut.residualDb)}FS at ${seconds(asCut.worstSeconds, 2)}`;
  const on = goingOn.identical ? 'identical' : 'not identical';
  return `Slices as cut: off by up to ${most}; run on to the next: ${on}`;
}

function inFull({ asCut, goingOn }: Rebuilding): string {
  if (asCut.identical) return 'Played from its slices it is identical to the source, bit for bit.';
  const worst = `${decibels(asCut.residualDb)}FS at most, at ${seconds(asCut.worstSeconds, 2)}`;
  const on = goingOn.identical
    ? 'identical, bit for bit'
    : `different by ${decibels(goingOn.residualDb)}FS at ${seconds(goingOn.worstSeconds, 2)}`;
  return `Played as they are cut, its slices differ from the source by ${worst}; each run on to the next one's start, they are ${on}.`;
}
