'use client';

import { useDraggable } from '@dnd-kit/core';
import { ChevronDown, ChevronRight } from 'lucide-react';
import type { Stretch } from '../pads/laying';
import { length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { MiniWave } from '../parts/MiniWave';
import { RightsMark } from '../parts/RightsMark';
import type { PickerRow } from './rows';

/** A line of the picker, dragged onto a pad. */
export function PickerLine({
  row,
  stretch,
  chosen,
  onChoose,
  onFold,
}: {
  row: PickerRow;
  stretch: Stretch;
  chosen: boolean;
  onChoose: (event: React.MouseEvent) => void;
  onFold: () => void;
}) {
  const { recording } = row;
  const { setNodeRef, listeners } = useDraggable({ id: `pick-${row.id}`, data: { stretch } });
  const name =
    row.type === 'hit'
      ? row.hit.name
      : row.type === 'slice'
        ? `${row.number} ${stretch.title ?? stretch.family ?? ''}`
        : recording.title;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    <div
      ref={setNodeRef}
      {...listeners}
      role="option"
      tabIndex={-1}
      id={`pick-${row.id}`}
      aria-selected={chosen}
      data-testid="pick"
      onClick={onChoose}
      onDoubleClick={onFold}
      className={`flex h-full cursor-grab items-center gap-2 border-b border-line px-3 ${row.type === 'slice' ? 'pl-8' : ''} ${chosen ? 'bg-selection' : 'hover:bg-paper'}`}
    >
      {row.type === 'recording' ? (
        <button
          type="button"
          tabIndex={-1}
          aria-label={row.open ? `Fold ${name}` : `Unfold ${name}`}
          className="-ml-1 text-soft hover:text-ink"
          onPointerDown={(event) => event.stopPropagation()}
          onClick={(event) => {
            event.stopPropagation();
            onFold();
          }}
        >
          {row.open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      ) : (
        <Glyph family={stretch.family} size={14} />
      )}
      <span className={`w-[150px] flex-none truncate ${row.type === 'recording' ? 'font-semibold' : ''}`} title={name}>
        {name}
      </span>
      <span className="min-w-0 flex-1">
        <MiniWave recording={recording} start={stretch.startFrame} end={stretch.endFrame} height={20} />
      </span>
      <RightsMark rights={recording} size={12} />
      <span className="figure w-[60px] text-right text-[12px] text-soft">
        {length((stretch.endFrame - stretch.startFrame) / recording.sampleRate)}
      </span>
    </div>
  );
}
