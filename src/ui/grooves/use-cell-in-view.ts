import { type RefObject, useEffect } from 'react';
import { NAMES_PX, ROW_PX } from './measures';
import type { GrooveDesk } from './use-groove-desk';

/** Scrolls the grid as little as needed for the cell to be seen, when it moves or when there is less room. */
export function useCellInView(
  scroller: RefObject<HTMLElement | null>,
  desk: GrooveDesk,
  perTick: number,
  height: number,
) {
  const { cell, step } = desk;
  useEffect(() => {
    const box = scroller.current;
    if (!box || height === 0) return;
    const top = cell.row * ROW_PX;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + ROW_PX > box.scrollTop + height) box.scrollTop = top + ROW_PX - height;
    const left = cell.tick * perTick;
    const wide = box.clientWidth - NAMES_PX;
    const right = left + Math.min(wide, step * perTick);
    if (left < box.scrollLeft) box.scrollLeft = left;
    else if (right > box.scrollLeft + wide) box.scrollLeft = right - wide;
  }, [scroller, cell, step, perTick, height]);
}
