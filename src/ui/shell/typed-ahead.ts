import { useLayoutEffect } from 'react';

/**
 * Keeps what is typed while a dialog opens and puts it into the dialog's field once that has the focus; the page would
 * take it for shortcuts. Goes on while the dialog is open: the focus may stand on the dialog itself for a moment.
 * Printable characters only: Enter is not kept.
 */
export function useTypedAhead(opening: boolean, onEscape: () => void): void {
  // Before the next key event.
  useLayoutEffect(() => {
    if (!opening) return;
    let typed = '';
    const listening = new AbortController();
    const { signal } = listening;
    const keep = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (inDialog(event.target) && typed === '') return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.key === 'Escape') onEscape();
      else if (event.key === 'Backspace') typed = typed.slice(0, -1);
      else if (event.key.length === 1) typed += event.key;
      document.querySelector<HTMLInputElement>('[role="dialog"] input')?.focus();
    };
    const give = ({ target }: FocusEvent) => {
      if (!(target instanceof HTMLInputElement) || !inDialog(target)) return;
      // A frame later: a list that opens before its dialog has settled is closed by it again.
      requestAnimationFrame(() => {
        if (signal.aborted || typed === '' || document.activeElement !== target) return;
        target.setRangeText(typed, target.selectionStart ?? 0, target.selectionEnd ?? 0, 'end');
        typed = '';
        target.dispatchEvent(new Event('input', { bubbles: true }));
      });
    };
    window.addEventListener('keydown', keep, { capture: true, signal });
    window.addEventListener('focusin', give, { signal });
    return () => listening.abort();
  }, [opening, onEscape]);
}

/** Whether it stands within a dialog; the dialog itself takes no keys. */
function inDialog(target: EventTarget | null): boolean {
  return target instanceof Element && target.parentElement?.closest('[role="dialog"]') != null;
}
