/** Gives focus back to an element that had it, where that is still on the page. */
export function focusAgain(element: Element | null): void {
  if (element instanceof HTMLElement && element.isConnected) element.focus();
}
