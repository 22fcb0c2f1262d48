'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useEffect, useRef } from 'react';

/** Rows of one height, rendered only where visible; the one at `index` is scrolled into view. */
export function VirtualRows({
  count,
  height,
  index,
  keyOf,
  children,
  nothing,
}: {
  count: number;
  height: number;
  /** -1 for none. */
  index: number;
  keyOf: (index: number) => string;
  children: (index: number) => ReactNode;
  /** Shown when there are no rows. */
  nothing: ReactNode;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 6,
  });
  useEffect(() => {
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' });
  }, [index, rows]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      {count === 0 && nothing}
      <div className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((item) => (
          <div
            key={keyOf(item.index)}
            className="absolute inset-x-0 [contain:layout_style]"
            style={{ height, transform: `translateY(${item.start}px)` }}
          >
            {children(item.index)}
          </div>
        ))}
      </div>
    </div>
  );
}
