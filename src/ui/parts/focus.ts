/**
 * Takes the focus off a link or button that was clicked before. Once a person moves through a list by arrow keys, Enter
 * means the list's entry, not the link they came by.
 */
export function leaveControl(): void {
  const focused = document.activeElement;
  if (focused instanceof HTMLElement && focused.closest('a, button')) focused.blur();
}

/** True where keys are text, not commands: in fields that take typing. */
export function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return element?.closest?.('input:not([type=checkbox]):not([type=range]), textarea, [contenteditable=true]') != null;
}
