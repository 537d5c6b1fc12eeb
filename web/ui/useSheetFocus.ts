import { type RefObject, useEffect, useEffectEvent, useLayoutEffect, useRef } from 'react';
import { isTyping } from './isTyping.ts';

/**
 * A sheet takes the focus when it opens and when something else is shown in it; Escape closes it, also from beside it, and the
 * focus goes back to what had opened it.
 * @param shown what is in it: another value is another opening
 */
export function useSheetFocus(panel: RefObject<HTMLElement | null>, shown: string, onClose: () => void): void {
  const opener = useRef<Element | null>(null);
  useLayoutEffect(() => {
    const { activeElement } = document;
    if (!panel.current || panel.current.contains(activeElement)) return;
    // Who types goes on typing; what is called meanwhile waits for them.
    if (isTyping(activeElement)) return;
    opener.current = activeElement;
    panel.current.focus({ preventScroll: true });
  }, [panel, shown]);
  useLayoutEffect(() => {
    const own = panel.current;
    return () => {
      const { current } = opener;
      if (!own?.contains(document.activeElement)) return;
      const back =
        current instanceof HTMLElement && current.isConnected && current !== document.body
          ? current
          : document.getElementById('view');
      back?.focus({ preventScroll: true });
    };
  }, [panel]);
  const close = useEffectEvent(onClose);
  useEffect(() => {
    // Whether something lay over the sheet when the key went down: by the time that it arrives here that has closed.
    let covered = false;
    const before = (): void => {
      covered = document.querySelector('[role=dialog]') !== null;
    };
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || event.defaultPrevented || covered) return;
      const inside = event.target instanceof Node && panel.current?.contains(event.target) === true;
      if (inside || !isTyping(event.target)) close();
    };
    window.addEventListener('keydown', before, true);
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', before, true);
      window.removeEventListener('keydown', onKey);
    };
  }, [panel]);
}
