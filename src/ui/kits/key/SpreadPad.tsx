'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import { movedBy, scaleSteps, typedSteps } from '@/core/kit/key';
import type { Pad } from '@/core/kit/model';
import { freeName } from '@/core/naming/names';
import { type Move, PITCH_CLASSES } from '@/core/pitch/intervals';
import { typedNote } from '@/core/pitch/typed-note';
import { KIT_PADS } from '@/core/play/limits';
import { useCommands } from '../../data/commit';
import { useKitDesk } from '../../pads/kit-context';
import { copyPad } from '../../pads/laying';
import { useMiddleOctave } from '../../parts/note-names';
import { tell } from '../../parts/notice';
import { keyOf, useTonal } from './roots';

/** As many pads as a row has. */
const ROW = 8;

/** Lays a pad's sound on further pads at other pitches: up a scale, or at a list of them. */
export function SpreadPad({ view, pad }: { view: KitView; pad: Stored<Pad> }) {
  const { commit } = useCommands();
  const { setChosen } = useKitDesk();
  const middle = useMiddleOctave();
  const [typed, setTyped] = useState('');
  const tonal = useTonal(view).tonal.find((one) => one.pad.id === pad.id) ?? null;
  const key = keyOf(view.kit);
  const spread = (moves: readonly Move[], close: () => void) => {
    const { changes, last, left } = spreadChanges(view, pad, moves, () => crypto.randomUUID());
    if (changes.length > 0) void commit(`spread ${pad.name} over ${moves.length - left} pads`, changes);
    if (left > 0) tell(left === 1 ? 'One step found no free pad.' : `${left} steps found no free pad.`);
    close();
    // The panel goes before the pad it belongs to.
    if (last !== null) setTimeout(() => setChosen(last));
  };
  const byScale = (wanted: 'key' | 'chromatic', close: () => void) => {
    const over = wanted === 'key' && key ? key : ({ tonic: 0, scale: 'chromatic' } as const);
    // The pad itself has the first step.
    spread(scaleSteps(ROW, over, wanted === 'key' ? (tonal?.hz ?? null) : null).slice(1), close);
  };
  const byList = (close: () => void) => {
    const read = typedSteps(typed, tonal?.hz ?? null, (name) => typedNote(name, middle));
    if ('unread' in read)
      tell(
        tonal || !/^[a-gA-G]/.test(read.unread)
          ? `"${read.unread}" is neither a number of semitones nor a note like F#2.`
          : `${pad.name} has no root that was heard, so it cannot be laid at the note ${read.unread}; semitones will do.`,
      );
    else if (read.steps.length > 0) spread(read.steps, close);
  };
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button" title="The same sound on further pads, at other pitches">
        Spread …
      </PopoverButton>
      <PopoverPanel
        anchor="top end"
        className="z-40 w-[300px] rounded-lg border border-line bg-sheet p-3 text-[13px] shadow-lg [--anchor-gap:6px]"
      >
        {({ close }) => (
          <>
            <p className="mb-2 text-[12px] text-soft">
              Onto the free pads after this one{tonal ? '' : '; no root was heard in it, so it counts as the tonic'}.
            </p>
            <div className="flex flex-wrap gap-2">
              {key && (
                <button type="button" className="quiet-button" onClick={() => byScale('key', close)}>
                  {PITCH_CLASSES[key.tonic]} {key.scale}, 8 pads
                </button>
              )}
              <button type="button" className="quiet-button" onClick={() => byScale('chromatic', close)}>
                Semitones up, 8 pads
              </button>
            </div>
            <form
              className="mt-3 flex items-center gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                byList(close);
              }}
            >
              <input
                className="figure min-w-0 flex-1 rounded border border-line px-2 py-1"
                aria-label="Semitones or notes"
                placeholder="-5 +3 +7, or C3 E3 G3"
                value={typed}
                onChange={(event) => setTyped(event.target.value)}
              />
              <button type="submit" className="quiet-button">
                Lay
              </button>
            </form>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** Copies of a pad at other pitches on the free places after it, then before it; how many found none. */
export function spreadChanges(view: KitView, pad: Stored<Pad>, moves: readonly Move[], newId: () => string) {
  const taken = new Set(view.pads.map(({ position }) => position));
  const places = Array.from({ length: KIT_PADS }, (_, i) => (pad.position + 1 + i) % KIT_PADS).filter(
    (p) => !taken.has(p),
  );
  const names = new Set(view.pads.map(({ name }) => name));
  const changes = moves.slice(0, places.length).flatMap((move, i): Change[] => {
    const place = places[i] as number;
    const name = freeName(pad.name, names);
    names.add(name);
    return copyPad(view, pad.position, place, newId).map((change) =>
      change.op === 'create' && change.doc === 'pad'
        ? {
            ...change,
            value: { ...change.value, name, role: '', ...movedBy(pad, move) },
          }
        : change,
    );
  });
  const laid = Math.min(moves.length, places.length);
  return { changes, last: laid > 0 ? (places[laid - 1] as number) : null, left: moves.length - laid };
}
