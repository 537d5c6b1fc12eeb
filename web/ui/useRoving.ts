import { type KeyboardEvent, type RefObject, useEffect } from 'react';

const ALONG: Readonly<Record<string, number>> = { ArrowDown: 1, ArrowUp: -1 };
const BOTH: Readonly<Record<string, number>> = { ...ALONG, ArrowRight: 1, ArrowLeft: -1 };

const entriesOf = (list: HTMLElement): HTMLElement[] => [...list.querySelectorAll<HTMLElement>('[data-rove]')];

/**
 * A list that is one stop for the Tab key: arrows, Home and End go through its entries, which bear `data-rove`. Tab comes back
 * to the one that is current, else to the one that was left.
 * @param across whether the arrows to the sides go through it as well
 * @returns what the list element listens with
 */
export function useRoving(list: RefObject<HTMLElement | null>, across = true): (event: KeyboardEvent) => void {
  // After each drawing, since entries come and go.
  useEffect(() => {
    if (!list.current) return;
    const entries = entriesOf(list.current);
    const stop =
      entries.find((each) => each.matches('[aria-current]:not([aria-current=false]), [aria-pressed=true]')) ??
      entries.find((each) => each.dataset['rove'] === 'left') ??
      entries[0];
    for (const each of entries) each.tabIndex = each === stop ? 0 : -1;
  });
  return (event) => {
    if (!list.current || event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return;
    const entries = entriesOf(list.current);
    const at = entries.indexOf(event.target as HTMLElement);
    if (at < 0) return;
    const step = (across ? BOTH : ALONG)[event.key] ?? 0;
    const to =
      event.key === 'Home'
        ? 0
        : event.key === 'End'
          ? entries.length - 1
          : Math.min(entries.length - 1, Math.max(0, at + step));
    if (step === 0 && event.key !== 'Home' && event.key !== 'End') return;
    event.preventDefault();
    entries.forEach((each, i) => {
      each.tabIndex = i === to ? 0 : -1;
      each.dataset['rove'] = i === to ? 'left' : '';
    });
    entries[to]?.focus();
  };
}
