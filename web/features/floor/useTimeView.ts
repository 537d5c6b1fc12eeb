import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { preferences, setPreferences } from '../../ui/preferences.ts';
import { isTyping } from '../../ui/isTyping.ts';
import { type Drawn, TimeView, ZOOMS } from './timeView.ts';

const TICK_MS = 250;
/** Turned by one wheel notch (px). */
const ZOOM_PER_PX = 1.0018;

function startSpan(): { readonly backH: number; readonly allH: number } {
  const { floorHours } = preferences();
  return ZOOMS.find(({ allH }) => allH === floorHours) ?? ZOOMS[2];
}

export interface TimeViewState {
  readonly view: TimeView;
  readonly drawn: Drawn;
  /** On the element that holds ruler and strips. */
  readonly hold: (element: HTMLElement | null) => void;
  /** Whether the present is somewhere else than the zoom puts it. */
  readonly show: (zoom: (typeof ZOOMS)[number]) => void;
}

/**
 * Pan and zoom of the strips: wheel sideways or with shift pans, with ctrl zooms around the pointer, dragging empty time pans;
 * + and − zoom, ← and → pan, Home goes back to now.
 * @param headPx the part at the left that is no time
 * @param now the shop's present instant, asked as often as needed
 * @param isCarrying whether a run is being carried: the keys are its own then
 */
export function useTimeView(headPx: number, now: () => number, isCarrying: () => boolean): TimeViewState {
  const nowRef = useRef(now);
  useEffect(() => {
    nowRef.current = now;
  });
  const [start] = useState(() => Math.round(now() / 3_600_000) * 3_600_000);
  const [drawn, setDrawn] = useState<Drawn>(() => ({ fromMs: start - 36e5, toMs: start + 13 * 36e5, pxPerH: 60 }));
  const [view] = useState(() => new TimeView(start, now(), setDrawn, startSpan()));
  const cleanup = useRef<(() => void) | undefined>(undefined);
  useEffect(() => {
    const timer = window.setInterval(() => {
      view.tick(nowRef.current());
    }, TICK_MS);
    return () => {
      window.clearInterval(timer);
    };
  }, [view]);
  // Strips that have just been added, and layers that were drawn anew, are put in their place before they are seen.
  useLayoutEffect(() => {
    view.place();
  });
  const show = useCallback(
    (zoom: (typeof ZOOMS)[number]) => {
      setPreferences({ floorHours: zoom.allH });
      view.show(zoom.backH, zoom.allH);
    },
    [view],
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || event.ctrlKey || event.altKey || event.metaKey || event.defaultPrevented) return;
      // Else an arrow would move the strips away from under the run.
      if (isCarrying()) return;
      const { allH } = view.span;
      const middle = (view.pxPerH * allH) / 2;
      if (event.key === '+' || event.key === '=') view.zoom(0.6, middle);
      else if (event.key === '-') view.zoom(1 / 0.6, middle);
      else if (event.key === 'ArrowLeft') view.pan(view.pxPerH * allH * 0.2);
      else if (event.key === 'ArrowRight') view.pan(-view.pxPerH * allH * 0.2);
      else if (event.key === 'Home') view.show(allH / 13, allH);
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [view, isCarrying]);
  const hold = useCallback(
    (element: HTMLElement | null) => {
      cleanup.current?.();
      cleanup.current = undefined;
      view.attach(element);
      if (element) cleanup.current = follow(element, view, headPx);
    },
    [view, headPx],
  );
  return { view, drawn, hold, show };
}

/** Listens to what moves the strips: size, wheel, and a drag on empty time. Buttons and runs keep their own gestures. */
function follow(element: HTMLElement, view: TimeView, headPx: number): () => void {
  const sized = new ResizeObserver(() => {
    view.resize(element.clientWidth - headPx);
  });
  sized.observe(element);
  view.resize(element.clientWidth - headPx);
  const onWheel = (event: WheelEvent): void => {
    const sideways = event.shiftKey ? event.deltaY : event.deltaX;
    if (event.ctrlKey || event.metaKey) {
      event.preventDefault();
      const px = event.clientX - element.getBoundingClientRect().left - headPx;
      view.zoom(ZOOM_PER_PX ** event.deltaY, Math.max(0, px));
    } else if (Math.abs(sideways) > 0) {
      event.preventDefault();
      view.pan(-sideways);
    }
  };
  let last: number | undefined;
  const onDown = (event: PointerEvent): void => {
    const target = event.target as Element;
    if (event.button !== 0 || target.closest('button, a, select, input') !== null || !target.closest('[data-time]'))
      return;
    last = event.clientX;
    element.setPointerCapture(event.pointerId);
  };
  const onMove = (event: PointerEvent): void => {
    if (last === undefined) return;
    view.pan(event.clientX - last);
    last = event.clientX;
  };
  const onUp = (): void => {
    last = undefined;
  };
  element.addEventListener('wheel', onWheel, { passive: false });
  element.addEventListener('pointerdown', onDown);
  element.addEventListener('pointermove', onMove);
  element.addEventListener('pointerup', onUp);
  element.addEventListener('pointercancel', onUp);
  return () => {
    sized.disconnect();
    element.removeEventListener('wheel', onWheel);
    element.removeEventListener('pointerdown', onDown);
    element.removeEventListener('pointermove', onMove);
    element.removeEventListener('pointerup', onUp);
    element.removeEventListener('pointercancel', onUp);
  };
}
