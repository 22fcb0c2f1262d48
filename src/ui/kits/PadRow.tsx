'use client';

import { type KeyboardEvent, memo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import { noteOf } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS, type PadValues } from '@/core/kit/parameters';
import { optionsOf, typedValue } from '@/core/parameter/values';
import { minus } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { LazyChoice } from '../parts/LazyChoice';
import type { SelectMode } from '../parts/listing';
import type { AnyNumber } from '../parts/Parameter';

export type Key = keyof PadValues & string;

interface PadRowProps {
  readonly pad: Stored<Pad>;
  readonly note: string;
  readonly keys: readonly Key[];
  readonly columns: string;
  readonly isSelected: boolean;
  readonly choose: (pad: Stored<Pad>, how: SelectMode) => void;
  readonly set: (pad: Stored<Pad>, key: Key, value: unknown) => void;
}

/** A pad of the table. Those that stay in sight while it scrolls are not drawn anew. */
export const PadRow = memo(function PadRow({ pad, note, keys, columns, isSelected, choose, set }: PadRowProps) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: its fields take the focus
    <div
      data-testid="pad-row"
      data-chosen={isSelected || undefined}
      className={`grid h-full items-center gap-2 border-line border-b ${isSelected ? 'bg-selection' : ''}`}
      style={{ gridTemplateColumns: columns }}
      onClick={(event) => {
        if ((event.target as Element).closest('input, button, [role=option]')) return;
        choose(pad, event.shiftKey ? 'through' : event.ctrlKey || event.metaKey ? 'also' : 'alone');
      }}
    >
      <span className="figure text-[12px] text-soft">{note}</span>
      <span className="flex min-w-0 items-center gap-1">
        <Glyph family={pad.family} size={13} />
        <span className="truncate">{pad.role || pad.name}</span>
      </span>
      {keys.map((key) => (
        <Cell key={key} name={key} pad={pad} onSet={(value) => set(pad, key, value)} />
      ))}
    </div>
  );
});

/** A value of a pad, to be typed or chosen. */
function Cell({ name, pad, onSet }: { name: Key; pad: Stored<Pad>; onSet: (value: unknown) => void }) {
  const of = PAD_PARAMETERS[name];
  if (of.kind === 'list') return null;
  if (of.kind !== 'number')
    return (
      <span className="text-right">
        <LazyChoice
          quiet
          label={`${of.label} of ${pad.name}`}
          className="max-w-full text-[12px]"
          value={pad[name] as string}
          options={optionsOf(of) as never}
          onChoose={onSet}
        />
      </span>
    );
  return <Figure of={of as AnyNumber} name={name} pad={pad} onSet={onSet} />;
}

function Figure({
  of,
  name,
  pad,
  onSet,
}: {
  of: AnyNumber;
  name: Key;
  pad: Stored<Pad>;
  onSet: (value: number | null) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const value = name === 'note' ? noteOf(pad) : (pad[name] as number | null);
  const shown = value === null ? '' : minus(String(Number((value * of.times).toFixed(of.digits))));
  const finish = () => {
    if (typed === null) return;
    setTyped(null);
    if (typed.trim() === '') {
      if (of.none && value !== null) onSet(null);
      return;
    }
    const wanted = typedValue(of, typed);
    if (wanted !== null && wanted !== value) onSet(wanted);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') finish();
    else if (event.key === 'Escape') setTyped(null);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      // To the same figure of the pad below or above.
      const cells = [...document.querySelectorAll<HTMLInputElement>(`[data-cell="${name}"]`)];
      cells[cells.indexOf(event.currentTarget) + (event.key === 'ArrowDown' ? 1 : -1)]?.focus();
      event.preventDefault();
    }
  };
  return (
    <input
      aria-label={`${of.label} of ${pad.role || pad.name}`}
      data-cell={name}
      className="figure w-full min-w-0 rounded-sm bg-transparent px-1 text-right text-[12px] hover:bg-paper"
      inputMode="decimal"
      placeholder={of.none?.label ?? ''}
      title={`${minus(String(of.low * of.times))} to ${of.high * of.times} ${of.unit}`}
      value={typed ?? shown}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={onKeyDown}
    />
  );
}
