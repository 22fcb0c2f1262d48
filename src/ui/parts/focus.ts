/**
 * Takes the focus off a link or button that was clicked before. Once a person moves through a list by arrow keys, Enter
 * means the list's entry, not the link they came by.
 */
export function leaveControl(): void {
  const focused = document.activeElement;
  if (focused instanceof HTMLElement && focused.closest('a, button')) focused.blur();
}
