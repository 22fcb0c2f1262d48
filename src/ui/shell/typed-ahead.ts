import { useLayoutEffect } from 'react';

/**
 * Keeps what is typed between the key that opens a dialog and the focus of its field, and puts it into that field; the
 * page would take it for shortcuts. Printable characters only: Enter is not kept.
 */
export function useTypedAhead(opening: boolean, onEscape: () => void): void {
  // Before the next key event.
  useLayoutEffect(() => {
    if (!opening) return;
    let typed = '';
    const listening = new AbortController();
    const { signal } = listening;
    const keep = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || inDialog(event.target)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.key === 'Escape') onEscape();
      else if (event.key === 'Backspace') typed = typed.slice(0, -1);
      else if (event.key.length === 1) typed += event.key;
    };
    const give = ({ target }: FocusEvent) => {
      if (!(target instanceof HTMLInputElement) || !inDialog(target)) return;
      listening.abort();
      if (typed === '') return;
      target.setRangeText(typed, target.selectionStart ?? 0, target.selectionEnd ?? 0, 'end');
      target.dispatchEvent(new Event('input', { bubbles: true }));
    };
    window.addEventListener('keydown', keep, { capture: true, signal });
    window.addEventListener('focusin', give, { signal });
    return () => listening.abort();
  }, [opening, onEscape]);
}

function inDialog(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest('[role="dialog"]') !== null;
}
