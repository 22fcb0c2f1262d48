/**
 * Blurs a link or button that was clicked before: once a person moves through a list by arrow keys, Enter means the
 * list's entry.
 */
export function leaveControl(): void {
  const focused = document.activeElement;
  if (focused instanceof HTMLElement && focused.closest('a, button')) focused.blur();
}

/** True where keys are text, not commands. */
export function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return element?.closest?.('input:not([type=checkbox]):not([type=range]), textarea, [contenteditable=true]') != null;
}

/** For a key that means the page only where no control has the focus: Enter on a button is the button's. */
export const notInControl = {
  preventDefault: true,
  ignoreEventWhen: (event: KeyboardEvent) =>
    (event.target as HTMLElement).closest('button, a, input, [role=menu], [role=dialog], [role=listbox]') !== null,
};

/** Whether a key belongs to a dialog, a menu or a panel over the page. */
function isOverPage(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return (
    document.querySelector('[role=dialog]') !== null ||
    target?.closest?.('[data-headlessui-portal], [role=menu], [role=listbox]') != null
  );
}

/** For a key of the page: not heeded while a dialog is open or a panel has the focus. */
export const pageKey = { preventDefault: true, ignoreEventWhen: isOverPage };
