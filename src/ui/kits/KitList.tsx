'use client';

import { useEffect, useRef, useState } from 'react';
import type { KitListEntry, KitView } from '@/contract/views';
import { FAMILIES } from '@/core/family';
import { useKits } from '../data/queries';
import { useSupplied } from '../imports/use-supplied';
import { useKitDesk } from '../pads/kit-context';
import { SuppliedChoice, useSuppliedFilter } from '../parts/Supplied';
import { VirtualRows } from '../parts/VirtualRows';
import { replaying } from '../play/simulated';
import { soundNow } from '../sound/open-sound';
import type { PadState } from '../sound/use-kit-sound';

const ROW_PX = 28;
const COLUMNS = '1.4fr 60px 1fr 1.4fr 2.4fr';
/** What is struck of a kit to hear it: so many pads, so many ms apart, at this velocity. */
const PHRASE = { pads: 4, apartMs: 190, velocity: 104 } as const;

/**
 * All kits, searched by their own words. The arrows open one after another and have it heard; what plays meanwhile goes on
 * with it. Escape goes back to the first.
 */
export function KitList({ view }: { view: KitView }) {
  const { choose, padStates } = useKitDesk();
  const kits = useKits();
  const [typed, setTyped] = useState('');
  const first = useRef(view.kit.id);
  const listen = usePhrase(view, padStates);
  const isShown = useSuppliedFilter();
  const putSupplied = useSupplied();
  const all = kits.data ?? [];
  const shown = matching(all.filter(isShown), typed);
  const index = shown.findIndex(({ id }) => id === view.kit.id);
  const hear = (kit: KitListEntry | undefined) => {
    if (!kit) return;
    choose(kit.id);
    listen(kit.id);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by !== 0) hear(shown[Math.max(0, Math.min(shown.length - 1, index < 0 ? 0 : index + by))]);
    else if (event.key === 'Escape') choose(first.current);
    else if (event.key === 'Enter') first.current = view.kit.id;
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <section aria-label="All kits" className="flex min-w-0 flex-1 flex-col px-4 py-2" onKeyDown={onKeyDown}>
      <header className="mb-1 flex flex-none items-center gap-3 text-[12px]">
        <input
          // biome-ignore lint/a11y/noAutofocus: the list was asked for, to search in it
          autoFocus
          aria-label="Search kits"
          placeholder="name, author, words …"
          className="w-[260px] rounded border border-line bg-transparent px-2 py-1 text-[13px]"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <SuppliedChoice rows={all} />
        <span className="truncate text-soft">
          ↑ ↓ open and hear one after another · Enter keeps it · Escape goes back
        </span>
        <span className="figure ml-auto flex-none text-soft">
          {shown.length === all.length ? shown.length : `${shown.length} of ${all.length}`}
        </span>
        {!all.some(({ supplied }) => supplied) && (
          <button type="button" className="quiet-button flex-none" onClick={() => void putSupplied()}>
            Put in the starter kit
          </button>
        )}
      </header>
      <div
        className="grid flex-none gap-3 border-line border-b px-2 text-[12px] text-soft"
        style={{ gridTemplateColumns: COLUMNS }}
      >
        <span>Kit</span>
        <span className="text-right">Pads</span>
        <span>Author</span>
        <span>Words</span>
        <span>Description</span>
      </div>
      <VirtualRows
        count={shown.length}
        height={ROW_PX}
        index={index}
        keyOf={(i) => (shown[i] as KitListEntry).id}
        nothing={
          <p className="py-2 text-soft">
            {typed === '' ? 'None of these kits.' : `No kit has “${typed}” in its name or words.`}
          </p>
        }
      >
        {(i) => <KitRow kit={shown[i] as KitListEntry} isOpen={i === index} onHear={() => hear(shown[i])} />}
      </VirtualRows>
    </section>
  );
}

function KitRow({ kit, isOpen, onHear }: { kit: KitListEntry; isOpen: boolean; onHear: () => void }) {
  return (
    <button
      type="button"
      data-testid="kit-row"
      aria-current={isOpen || undefined}
      className={`grid h-full w-full items-center gap-3 border-line border-b px-2 text-left ${isOpen ? 'bg-selection' : 'hover:bg-paper'}`}
      style={{ gridTemplateColumns: COLUMNS }}
      onClick={onHear}
    >
      <span className="truncate font-semibold">{kit.name}</span>
      <span className="figure text-right text-[12px] text-soft">{kit.padCount}</span>
      <span className="truncate">{kit.author}</span>
      <span className="truncate text-soft">{kit.words.join(', ')}</span>
      <span className="truncate text-soft">{kit.about}</span>
    </button>
  );
}

/** Kits that have every word that was typed somewhere in what they say of themselves. */
export function matching(kits: readonly KitListEntry[], typed: string): readonly KitListEntry[] {
  const words = typed
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '');
  return kits.filter(({ name, author, about, words: own }) => {
    const all = [name, author, about, ...own].join(' ').toLowerCase();
    return words.every((word) => all.includes(word));
  });
}

/** Has a kit heard by a few of its pads once they are ready, unless something plays through it already. */
function usePhrase(view: KitView, padStates: ReadonlyMap<number, PadState>): (kitId: string) => void {
  const wanted = useRef<string | null>(null);
  const timers = useRef<number[]>([]);
  const pads = phraseOf(view);
  const isReady = pads.every((position) => padStates.get(position) !== 'loading' && padStates.has(position));
  useEffect(() => {
    if (wanted.current !== view.kit.id || !isReady || pads.length === 0) return;
    wanted.current = null;
    const engine = soundNow()?.engine;
    if (replaying.get() !== null || soundNow()?.audition.playsRhythm || (engine && engine.lapBegan !== null)) return;
    timers.current = pads.map((pad, i) =>
      window.setTimeout(() => soundNow()?.engine.strike(pad, PHRASE.velocity), i * PHRASE.apartMs),
    );
  });
  useEffect(() => () => timers.current.forEach(clearTimeout), []);
  return (kitId) => {
    timers.current.forEach(clearTimeout);
    wanted.current = kitId;
  };
}

/** The pads that tell most of a kit: one of each family, kicks and snares first. */
function phraseOf(view: KitView): number[] {
  const sounding = view.pads.filter(({ id }) => view.layers.some(({ padId }) => padId === id));
  const rank = ({ family }: KitView['pads'][number]) => (family === null ? FAMILIES.length : FAMILIES.indexOf(family));
  const ordered = [...sounding].sort((a, b) => rank(a) - rank(b) || a.position - b.position);
  const firsts = ordered.filter((pad, i) => ordered.findIndex(({ family }) => family === pad.family) === i);
  return [...firsts, ...ordered.filter((pad) => !firsts.includes(pad))]
    .slice(0, PHRASE.pads)
    .map(({ position }) => position);
}
