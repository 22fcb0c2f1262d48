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
import { nameOfStretch, type RelayMode, type Stretch } from '../pads/laying';
import { Glyph } from '../parts/Glyph';
import { LaidBeside } from './LaidBeside';

/**
 * Drags stretches from waves and tables to pads, and pads to other places. On an occupied pad a stretch is laid beside what
 * is there, and the other ways are offered; pads swap, or are copied with Ctrl or Alt held.
 */
export function DragDesk({ children }: { children: ReactNode }) {
  const { view, lay, relay, movePad } = useKitDesk();
  const [carried, setCarried] = useState<Carried | null>(null);
  const copies = useCopyKey(carried !== null && 'padAt' in carried);
  const [laid, setLaid] = useState<{ name: string; position: number; x: number; y: number } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));

  const layBeside = useCallback(
    (stretch: Stretch, position: number) => {
      const name = view?.pads.find((p) => p.position === position)?.name ?? '';
      if (lay(stretch, position, 'beside') === null) return;
      const box = document.querySelector(`[data-position="${position}"]`)?.getBoundingClientRect();
      const x = box ? box.left + box.width / 2 : window.innerWidth / 2;
      setLaid({ name, position, x, y: box?.top ?? 200 });
    },
    [view, lay],
  );
  const close = useCallback(() => setLaid(null), []);
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
    layBeside(stretch, position);
  };
  const padAt = (at: number) => view?.pads.find((p) => p.position === at);
  const layOtherwise = (mode: RelayMode) => {
    if (laid) relay(laid.position, mode);
    setLaid(null);
  };

  return (
    <BesideContext.Provider value={layBeside}>
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
        {laid && <LaidBeside {...laid} onRelay={layOtherwise} onClose={close} />}
      </DndContext>
    </BesideContext.Provider>
  );
}

const BesideContext = createContext<(stretch: Stretch, position: number) => void>(() => {});

/** Lays a sound on an occupied pad, beside what is there, and offers the other ways. */
export function useLayBeside(): (stretch: Stretch, position: number) => void {
  return useContext(BesideContext);
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
