'use client';

import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type DragStartEvent,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type ReactNode, useState } from 'react';
import { useKitDesk } from '../pads/kit-context';
import type { Manner, Stretch } from '../pads/laying';
import { Glyph } from '../parts/Glyph';

/** Carries stretches from waves and tables to pads; a pad that has a sound asks what to do with it. */
export function DragDesk({ children }: { children: ReactNode }) {
  const { view, lay } = useKitDesk();
  const [carried, setCarried] = useState<Stretch | null>(null);
  const [asked, setAsked] = useState<{ stretch: Stretch; position: number; x: number; y: number } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));

  const onStart = (event: DragStartEvent) =>
    setCarried((event.active.data.current as { stretch: Stretch } | undefined)?.stretch ?? null);
  const onEnd = (event: DragEndEvent) => {
    const stretch = carried;
    setCarried(null);
    const position = (event.over?.data.current as { position?: number } | undefined)?.position;
    if (!stretch || position === undefined) return;
    if (!view?.pads.some((p) => p.position === position)) {
      lay(stretch, position, 'next');
      return;
    }
    const box = event.over?.rect;
    setAsked({ stretch, position, x: (box?.left ?? 0) + (box?.width ?? 0) / 2, y: box?.top ?? 0 });
  };
  const answer = (manner: Manner) => {
    if (asked) lay(asked.stretch, asked.position, manner);
    setAsked(null);
  };

  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={onStart}
      onDragEnd={onEnd}
      onDragCancel={() => setCarried(null)}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {carried && (
          <div className="flex w-fit items-center gap-2 rounded-md border border-verdigris bg-sheet px-2 py-1 shadow-md">
            <Glyph family={carried.family} />
            <span>
              {carried.recording.title} {carried.number}
            </span>
          </div>
        )}
      </DragOverlay>
      {asked && <Question x={asked.x} y={asked.y} onAnswer={answer} onClose={() => setAsked(null)} />}
    </DndContext>
  );
}

function Question({
  x,
  y,
  onAnswer,
  onClose,
}: {
  x: number;
  y: number;
  onAnswer: (manner: Manner) => void;
  onClose: () => void;
}) {
  const choices: [Manner, string, string][] = [
    ['beside', 'Beside it', 'both sound, as layers'],
    ['instead', 'Instead of it', 'the old sound leaves the pad'],
    ['next', 'Next free pad', 'the old sound stays alone'],
  ];
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the surroundings only close the menu; Escape does too
    <div
      className="fixed inset-0 z-40"
      onPointerDown={(event) => event.target === event.currentTarget && onClose()}
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <div
        role="menu"
        aria-label="The pad has a sound already"
        className="absolute w-[260px] -translate-x-1/2 -translate-y-full rounded-lg border border-edge bg-sheet p-1 shadow-lg"
        style={{ left: Math.max(140, Math.min(window.innerWidth - 140, x)), top: Math.max(130, y - 6) }}
      >
        <p className="px-2 py-1 text-[12px] text-soft">The pad has a sound already. Lay this one</p>
        {choices.map(([manner, label, what], i) => (
          <button
            key={manner}
            type="button"
            role="menuitem"
            // biome-ignore lint/a11y/noAutofocus: the menu was asked for, and arrow keys start from its first line
            autoFocus={i === 0}
            className="flex w-full items-baseline gap-2 rounded-md px-2 py-1 text-left hover:bg-selection focus:bg-selection"
            onKeyDown={(event) => {
              const to =
                event.key === 'ArrowDown'
                  ? event.currentTarget.nextElementSibling
                  : event.key === 'ArrowUp'
                    ? event.currentTarget.previousElementSibling
                    : null;
              if (to instanceof HTMLButtonElement) {
                event.preventDefault();
                to.focus();
              }
            }}
            onClick={() => onAnswer(manner)}
          >
            <span className="font-semibold">{label}</span>
            <span className="text-[12px] text-soft">{what}</span>
          </button>
        ))}
      </div>
    </div>
  );
}
