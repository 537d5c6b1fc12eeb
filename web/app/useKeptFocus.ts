import { useEffect } from 'react';
import { cannotHoldFocus, focusableIn } from '../ui/takesFocus.ts';

/** So many surroundings of what has the focus are remembered, from the nearest outwards. */
const SURROUNDINGS = 8;

interface Standing {
  readonly element: Element;
  /** What it stands in, the nearest first, with its number among all that takes the focus there. */
  readonly within: readonly { readonly root: Element; readonly index: number }[];
}

function standingOf(element: Element): Standing {
  const within: { root: Element; index: number }[] = [];
  for (let root = element.parentElement; root && within.length < SURROUNDINGS; root = root.parentElement) {
    if (root === document.body) break;
    within.push({ root, index: focusableIn(root).indexOf(element as HTMLElement) });
  }
  return { element, within };
}

/** What takes the place of an element that is gone: what stands where it stood, in the nearest surroundings that are left. */
function heirOf({ within }: Standing): HTMLElement | undefined {
  for (const { root, index } of within) {
    if (cannotHoldFocus(root)) continue;
    const left = focusableIn(root);
    const heir = left[Math.min(Math.max(0, index), left.length - 1)];
    if (heir) return heir;
  }
  return undefined;
}

/**
 * Who works by keys must never be thrown back to the top of the page. When the button that was pressed goes, is hidden or is
 * switched off, the focus would fall to the page: it goes to what has taken the place of that button instead.
 */
export function useKeptFocus(): void {
  useEffect(() => {
    let last: Standing | undefined;
    let frame = 0;
    const onFocus = (event: FocusEvent): void => {
      if (event.target instanceof Element && event.target !== document.body) last = standingOf(event.target);
    };
    const look = (): void => {
      const now = document.activeElement;
      // The browser gives up what is hidden by itself; asking for that here would make it lay the page out at every change.
      const lost = now === null || now === document.body || now.matches(':disabled');
      // What still stands there has been left by its person, who clicked beside it.
      if (!last || !lost || !cannotHoldFocus(last.element)) return;
      const heir = heirOf(last) ?? document.getElementById('view');
      last = undefined;
      heir?.focus({ preventScroll: true });
    };
    const lookAtFrame = (): void => {
      frame = 0;
      look();
    };
    const changed = new MutationObserver(() => {
      // At once, since a key that is pressed before the next frame would go to the page; and again when what was hidden is drawn.
      look();
      if (frame === 0) frame = requestAnimationFrame(lookAtFrame);
    });
    document.addEventListener('focusin', onFocus);
    changed.observe(document.body, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ['disabled', 'hidden', 'class'],
    });
    return () => {
      document.removeEventListener('focusin', onFocus);
      changed.disconnect();
      cancelAnimationFrame(frame);
    };
  }, []);
}
