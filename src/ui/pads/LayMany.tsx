'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useMemo, useState } from 'react';
import type { KitView } from '@/contract/views';
import { noteOf, noteOfPlace, placeName } from '@/core/kit/layout';
import { KIT_PADS } from '@/core/play/limits';
import { Choice } from '../parts/Choice';
import { Glyph } from '../parts/Glyph';
import { nameOfNote } from '../parts/note-names';
import { useKitDesk } from './kit-context';
import { layMany, type Occupied, type Stretch, type Way } from './laying';

/** What becomes of pads that have a sound, and how the preview says it. */
const OCCUPIED: readonly (readonly [Occupied, string])[] = [
  ['skip', 'are left as they are'],
  ['instead', 'get it instead'],
  ['beside', 'get it beside theirs'],
  ['take', 'get it as another take'],
];
const SAID: Readonly<Record<Occupied, string>> = {
  skip: '',
  instead: 'instead of',
  beside: 'beside',
  take: 'a take of',
};

interface LayManyProps {
  readonly stretches: readonly Stretch[];
  /** Names them in the history: "5 hits". */
  readonly what: string;
  readonly onClose: () => void;
}

/** Lays several sounds on pads, by role or from a pad on, with a preview. */
export function LayMany({ stretches, what, onClose }: LayManyProps) {
  const { view, chosen, layAll } = useKitDesk();
  const [way, setWay] = useState<Way>('role');
  const [occupied, setOccupied] = useState<Occupied>('skip');
  const from = typeof way === 'object' ? way.from : (chosen ?? 0);
  const planned = useMemo(
    () => (view ? layMany(view, stretches, way, () => crypto.randomUUID(), occupied) : null),
    [view, stretches, way, occupied],
  );
  if (!view || !planned) return null;
  const { laid, left } = planned;
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/20" aria-hidden />
      <DialogPanel className="fixed top-[8%] left-1/2 flex max-h-[80%] w-[560px] -translate-x-1/2 flex-col rounded-lg border border-edge bg-sheet shadow-lg">
        <DialogTitle className="px-5 pt-4 font-head text-[18px]">
          {what} to the pads of {view.kit.name}
        </DialogTitle>
        <fieldset className="flex items-center gap-4 px-5 py-2">
          <legend className="sr-only">Where they go</legend>
          <label className="flex items-center gap-2">
            <input type="radio" name="way" checked={way === 'role'} onChange={() => setWay('role')} />
            by role
          </label>
          <label className="flex items-center gap-2">
            <input type="radio" name="way" checked={way !== 'role'} onChange={() => setWay({ from })} />
            from the pad
          </label>
          <Choice
            label="From the pad"
            className="figure"
            value={from}
            options={placesByNote(view).map(
              ({ position, note }) => [position, `${placeName(position)} · ${note} ${nameOfNote(note)}`] as const,
            )}
            onChoose={(position) => setWay({ from: position })}
          />
          <span className="text-[12px] text-soft">on, by rising notes</span>
        </fieldset>
        <p className="flex items-center gap-2 px-5 pb-2">
          Pads with a sound
          <Choice label="Pads with a sound" value={occupied} options={OCCUPIED} onChoose={setOccupied} />
        </p>
        <ul aria-label="Where each goes" className="min-h-0 flex-1 overflow-y-auto border-line border-t">
          {laid.map(({ name, position, stretch, on }) => (
            <li key={position} className="flex h-7 items-center gap-3 border-line border-b px-5">
              <span className="figure min-w-6 flex-none rounded border border-edge px-1 text-center text-[12px]">
                {placeName(position)}
              </span>
              <span className="figure w-16 flex-none text-[12px] text-soft">
                {noteOfPlace(position)} {nameOfNote(noteOfPlace(position))}
              </span>
              <Glyph family={stretch.family} size={14} />
              <span className="min-w-0 flex-1 truncate">{name}</span>
              {on !== null && (
                <span className="max-w-[45%] truncate text-[12px] text-soft">
                  {SAID[occupied]} {on}
                </span>
              )}
            </li>
          ))}
        </ul>
        <div className="flex items-center gap-3 px-5 py-3">
          <span className={`text-[12px] ${left > 0 ? 'text-madder' : 'text-soft'}`}>
            {left > 0
              ? `${left} find no free pad and stay where they are.`
              : occupied === 'skip'
                ? 'Free pads only: nothing that lies there is changed.'
                : 'One undo takes all of it back.'}
          </span>
          <span className="ml-auto" />
          <button type="button" className="quiet-button" onClick={onClose}>
            Cancel
          </button>
          <button
            type="button"
            className="next-button"
            disabled={laid.length === 0}
            onClick={() => {
              layAll(stretches, way, `laid ${what} on pads`, occupied);
              onClose();
            }}
          >
            Lay {laid.length}
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  );
}

function placesByNote(view: KitView): { position: number; note: number }[] {
  const pads = new Map(view.pads.map((pad) => [pad.position, pad]));
  return Array.from({ length: KIT_PADS }, (_, position) => {
    const pad = pads.get(position);
    return { position, note: pad ? noteOf(pad) : noteOfPlace(position) };
  }).sort((a, b) => a.note - b.note);
}
