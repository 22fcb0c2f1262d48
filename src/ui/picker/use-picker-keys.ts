import { type RefObject, useEffect, useRef } from 'react';
import type { Picking } from './use-picking';

/** The keys of the picker's list; the page's own keys do not see those it takes. */
export function usePickerKeys(
  list: RefObject<HTMLElement | null>,
  search: RefObject<HTMLElement | null>,
  picking: Picking,
): void {
  const { rows, row, index, choose, fold } = picking;
  /** True where the key was one of the picker's. */
  const act = (event: KeyboardEvent): boolean => {
    const how = event.shiftKey ? 'through' : 'alone';
    switch (event.key) {
      case 'ArrowDown':
        choose(rows[Math.min(rows.length - 1, index + 1)], how);
        return true;
      case 'ArrowUp':
        choose(rows[Math.max(0, index - 1)], how);
        return true;
      case 'ArrowRight':
        if (row?.type === 'recording' && row.open) choose(rows[index + 1]);
        else if (row?.type === 'recording') fold(row.id, true);
        return true;
      case 'ArrowLeft':
        if (row?.type === 'recording') fold(row.id, false);
        else picking.toParent();
        return true;
      case 'Enter':
        picking.layChosen();
        return true;
      case 'F4':
        picking.treat();
        return true;
      case ' ':
        if (row) picking.hear(row);
        return true;
      case '/':
        search.current?.focus();
        return true;
      case 'Escape':
        list.current?.blur();
        return true;
      default:
        return false;
    }
  };
  const latest = useRef(act);
  latest.current = act;
  // A native listener on the list runs before those of the page, which listen on the document.
  useEffect(() => {
    const box = list.current;
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || !latest.current(event)) return;
      event.preventDefault();
      event.stopPropagation();
    };
    box?.addEventListener('keydown', onKeyDown);
    return () => box?.removeEventListener('keydown', onKeyDown);
  }, [list]);
}
