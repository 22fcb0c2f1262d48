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
import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from 'react';
import { useKitDesk } from '../pads/kit-context';
import { type LayMode, nameOfStretch, type Stretch } from '../pads/laying';
import { Glyph } from '../parts/Glyph';

/**
 * Drags stretches from waves and tables to pads, and pads to other places. An occupied pad asks what to do with a
 * stretch; pads swap, or are copied with Ctrl or Alt held.
 */
export function DragDesk({ children }: { children: ReactNode }) {
  const { view, lay, movePad } = useKitDesk();
  const [carried, setCarried] = useState<Carried | null>(null);
  const copies = useCopyKey(carried !== null && 'padAt' in carried);
  const [asked, setAsked] = useState<{ stretch: Stretch; position: number; x: number; y: number } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));

  const ask = useCallback((stretch: Stretch, position: number) => {
    const box = document.querySelector(`[data-position="${position}"]`)?.getBoundingClientRect();
    setAsked({ stretch, position, x: box ? box.left + box.width / 2 : window.innerWidth / 2, y: box?.top ?? 200 });
  }, []);
  const onStart = (event: DragStartEvent) => setCarried((event.active.data.current as Carried | undefined) ?? null);
  const onEnd = (event: DragEndEvent) => {
    setCarried(null);
    const position = (event.over?.data.current as { position?: number } | undefined)?.position;
    if (!carried || position === undefined) return;
    if ('padAt' in carried) {
      movePad(carried.padAt, position, copies);
      return;
    }
    const { stretch } = carried;
    if (!view?.pads.some((p) => p.position === position)) {
      lay(stretch, position, 'next');
      return;
    }
    ask(stretch, position);
  };
  const padAt = (at: number) => view?.pads.find((p) => p.position === at);
  const answer = (mode: LayMode) => {
    if (asked) lay(asked.stretch, asked.position, mode);
    setAsked(null);
  };

  return (
    <AskContext.Provider value={ask}>
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
              <Glyph family={'padAt' in carried ? (padAt(carried.padAt)?.family ?? null) : carried.stretch.family} />
              <span>
                {'padAt' in carried
                  ? `${copies ? 'a copy of ' : ''}${padAt(carried.padAt)?.name ?? ''}`
                  : nameOfStretch(carried.stretch)}
              </span>
            </div>
          )}
        </DragOverlay>
        {asked && <Question x={asked.x} y={asked.y} onAnswer={answer} onClose={() => setAsked(null)} />}
      </DndContext>
    </AskContext.Provider>
  );
}

const AskContext = createContext<(stretch: Stretch, position: number) => void>(() => {});

/** Asks what to do with a sound dropped on an occupied pad. */
export function useAskOccupied(): (stretch: Stretch, position: number) => void {
  return useContext(AskContext);
}

/** What is dragged: a stretch, or the pad at a place. */
type Carried = { readonly stretch: Stretch } | { readonly padAt: number };

/** Whether the copy key is held while a pad is dragged. */
function useCopyKey(watched: boolean): boolean {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    if (!watched) {
      setHeld(false);
      return;
    }
    const look = (event: KeyboardEvent | PointerEvent) => setHeld(event.ctrlKey || event.altKey || event.metaKey);
    window.addEventListener('keydown', look);
    window.addEventListener('keyup', look);
    window.addEventListener('pointermove', look);
    return () => {
      window.removeEventListener('keydown', look);
      window.removeEventListener('keyup', look);
      window.removeEventListener('pointermove', look);
    };
  }, [watched]);
  return held;
}

function Question({
  x,
  y,
  onAnswer,
  onClose,
}: {
  x: number;
  y: number;
  onAnswer: (mode: LayMode) => void;
  onClose: () => void;
}) {
  const choices: [LayMode, string, string][] = [
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
        {choices.map(([mode, label, what], i) => (
          <button
            key={mode}
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
            onClick={() => onAnswer(mode)}
          >
            <span className="font-semibold">{label}</span>
            <span className="text-[12px] text-soft">{what}</span>
          </button>
        ))}
      </div>
    </div>
  );
}
