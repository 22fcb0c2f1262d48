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
