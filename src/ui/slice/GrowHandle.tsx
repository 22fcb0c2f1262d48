'use client';

import { useCallback, useEffect, useState } from 'react';
import { useUsualBenchHeight } from '../pads/Bench';

const LEAST = 34;
const MOST = 420;
const STEP = 24;
const KEY = 'undercroft.bench-height';

export interface BenchHeight {
  readonly height: number;
  readonly setHeight: (height: number) => void;
  readonly reset: () => void;
}

/** Height of the table and the pads under the wave; kept between visits. */
export function useBenchHeight(): BenchHeight {
  const usual = useUsualBenchHeight();
  const [height, set] = useState<number | null>(null);
  useEffect(() => {
    const kept = Number(localStorage.getItem(KEY));
    if (kept >= LEAST && kept <= MOST) set(kept);
  }, []);
  const setHeight = useCallback((wanted: number) => {
    const next = Math.max(LEAST, Math.min(MOST, Math.round(wanted)));
    localStorage.setItem(KEY, String(next));
    set(next);
  }, []);
  const reset = useCallback(() => {
    localStorage.removeItem(KEY);
    set(null);
  }, []);
  return { height: height ?? usual, setHeight, reset };
}

/** The wave's lower edge: dragging it down enlarges the wave and folds what is below. */
export function GrowHandle({ bench }: { bench: BenchHeight }) {
  const [from, setFrom] = useState<{ y: number; height: number } | null>(null);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a rule cannot be dragged; this is the separator that can (WAI-ARIA 1.2)
    <div
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label="Height of the wave"
      aria-valuenow={MOST - bench.height}
      aria-valuemin={0}
      aria-valuemax={MOST - LEAST}
      title="Drag for a higher wave; double click for the usual height"
      className="group relative h-2 flex-none cursor-ns-resize touch-none border-line border-t bg-paper"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom({ y: event.clientY, height: bench.height });
      }}
      onPointerMove={(event) => from && bench.setHeight(from.height - (event.clientY - from.y))}
      onPointerUp={() => setFrom(null)}
      onPointerCancel={() => setFrom(null)}
      onDoubleClick={bench.reset}
      onKeyDown={(event) => {
        const by = { ArrowDown: -STEP, ArrowUp: STEP }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        bench.setHeight(bench.height + by);
      }}
    >
      <span className="-translate-x-1/2 absolute top-[2px] left-1/2 h-[3px] w-10 rounded-full bg-edge group-hover:bg-verdigris" />
    </div>
  );
}
