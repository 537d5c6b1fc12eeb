import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { isTyping } from '../../../ui/isTyping.ts';
import { type Camera, type Size, dotAt, fitCamera, panned, zoomed } from './channelCamera.ts';

const WHEEL_STEP = 1.0015;
const KEY_STEP = 1.5;
/** An arrow key moves by so much of the view. */
const KEY_PAN = 0.2;

export interface CameraControl {
  readonly size: Size;
  /** What is looked at now. */
  readonly camera: Camera;
  /** The dot under the pointer, or in the middle where it is not over the picture. */
  readonly pointed: { readonly x: number; readonly y: number };
  readonly zoomBy: (factor: number) => void;
  readonly fit: () => void;
}

/** A picture that is zoomed by wheel and keys and moved by pointer and keys. */
export function useCamera(box: RefObject<HTMLElement | null>, coat: Size): CameraControl {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const [camera, setCamera] = useState<Camera>({ x: coat.width / 2, y: coat.height / 2, scale: 1 });
  const [pointer, setPointer] = useState<{ readonly x: number; readonly y: number } | null>(null);
  const fitted = useRef(true);
  // What handlers see: two of them may come between two frames.
  const latest = useRef({ size, coat, camera });
  useEffect(() => {
    latest.current.coat = coat;
  });
  const look = useCallback((next: Camera, isFit = false) => {
    latest.current.camera = next;
    fitted.current = isFit;
    setCamera(next);
  }, []);
  const fit = useCallback(() => {
    look(fitCamera(latest.current.coat, latest.current.size), true);
  }, [look]);
  const zoomBy = useCallback(
    (factor: number) => {
      const { coat: all, size: view } = latest.current;
      look(zoomed(latest.current.camera, all, view, factor, { x: view.width / 2, y: view.height / 2 }));
    },
    [look],
  );
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const watch = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const { width, height } = entry.contentRect;
      setSize({ width, height });
      latest.current.size = { width, height };
      if (fitted.current) fit();
    });
    watch.observe(element);
    return () => {
      watch.disconnect();
    };
  }, [box, fit]);
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const placeOf = (event: MouseEvent): { x: number; y: number } => {
      const { left, top } = element.getBoundingClientRect();
      return { x: event.clientX - left, y: event.clientY - top };
    };
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { coat: all, size: view } = latest.current;
      look(zoomed(latest.current.camera, all, view, WHEEL_STEP ** -event.deltaY, placeOf(event)));
    };
    const onDown = (event: PointerEvent): void => {
      // What is captured is no click any more: buttons over the picture keep theirs.
      if (event.target instanceof Element && event.target.closest('button')) return;
      element.setPointerCapture(event.pointerId);
    };
    const onMove = (event: PointerEvent): void => {
      setPointer(placeOf(event));
      const { coat: all } = latest.current;
      if (event.buttons === 1) look(panned(latest.current.camera, all, event.movementX, event.movementY));
    };
    const onLeave = (): void => {
      setPointer(null);
    };
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const { coat: all, size: view } = latest.current;
      const by = KEY_PAN * Math.min(view.width, view.height);
      const arrow = { ArrowRight: [-by, 0], ArrowLeft: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[event.key];
      if (arrow) look(panned(latest.current.camera, all, arrow[0] ?? 0, arrow[1] ?? 0));
      else if (event.key === '+' || event.key === '=') zoomBy(KEY_STEP);
      else if (event.key === '-') zoomBy(1 / KEY_STEP);
      else if (event.key === '0') fit();
      else return;
      event.preventDefault();
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    element.addEventListener('pointerdown', onDown);
    element.addEventListener('pointermove', onMove);
    element.addEventListener('pointerleave', onLeave);
    window.addEventListener('keydown', onKey);
    return () => {
      element.removeEventListener('wheel', onWheel);
      element.removeEventListener('pointerdown', onDown);
      element.removeEventListener('pointermove', onMove);
      element.removeEventListener('pointerleave', onLeave);
      window.removeEventListener('keydown', onKey);
    };
  }, [box, fit, look, zoomBy]);
  const pointed = dotAt(camera, size, pointer ?? { x: size.width / 2, y: size.height / 2 });
  return { size, camera, pointed, zoomBy, fit };
}
