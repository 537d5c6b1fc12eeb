const FOCUSABLE =
  'a[href], button:not([disabled]), input:not([disabled]):not([type=hidden]), select:not([disabled]), textarea:not([disabled]), [tabindex]:not([tabindex="-1"])';

/** Everything below an element that takes the focus, as it lies on the page. */
export function focusableIn(root: ParentNode): HTMLElement[] {
  return [...root.querySelectorAll<HTMLElement>(FOCUSABLE)].filter((each) => each.getClientRects().length > 0);
}

/** Whether an element that had the focus has lost it for good: it is gone, hidden or switched off. */
export function cannotHoldFocus(element: Element): boolean {
  return !element.isConnected || element.getClientRects().length === 0 || element.matches(':disabled');
}
