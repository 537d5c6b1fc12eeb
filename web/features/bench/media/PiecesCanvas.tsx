import { useEffect, useRef } from 'react';
import { type PaintedRun, PiecePainter } from './paintPieces.ts';

/** More than this are painted instead of being drawn one by one. */
export const MOST_DRAWN = 400;

interface PiecesCanvasProps {
  readonly run: PaintedRun;
  readonly scroller: React.RefObject<HTMLElement | null>;
  readonly size: { readonly width: number; readonly height: number };
  readonly scale: number;
  readonly topPx: number;
  readonly mediaWidthMm: number;
  readonly fromMm: number;
  readonly usedMm: number;
  /** Of the media. */
  readonly colour: string;
}

/**
 * Pieces of a large run behind the drawing of the media: what is in sight is painted anew whenever it is scrolled or zoomed.
 * What is chosen and moved works as with pieces that are drawn.
 */
export function PiecesCanvas(props: PiecesCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  const paint = useRef<() => void>(undefined);
  useEffect(() => {
    latest.current = props;
  });
  useEffect(() => {
    const element = canvas.current;
    const { scroller } = latest.current;
    const scrolled = scroller.current;
    const context = element?.getContext('2d');
    if (!element || !context || !scrolled) return undefined;
    let asked = 0;
    const now = (): void => {
      asked = 0;
      const { run, size, scale, topPx, mediaWidthMm, fromMm, usedMm, colour } = latest.current;
      const ratio = globalThis.devicePixelRatio || 1;
      const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
      if (element.width !== width || element.height !== height) Object.assign(element, { width, height });
      painter.paint(context, run, {
        ...{ widthPx: size.width, heightPx: size.height, scale, mediaWidthMm, fromMm, usedMm, colour },
        leftPx: -scrolled.scrollLeft,
        topPx: topPx - scrolled.scrollTop,
      });
    };
    // However often it is asked for, once a frame.
    const ask = (): void => {
      if (asked === 0) asked = requestAnimationFrame(now);
    };
    const painter = new PiecePainter(ask);
    paint.current = ask;
    // Scrolling is painted within the frame that shows it.
    scrolled.addEventListener('scroll', now, { passive: true });
    ask();
    return () => {
      scrolled.removeEventListener('scroll', now);
      cancelAnimationFrame(asked);
    };
  }, []);
  const { run, scale, topPx, size, fromMm, usedMm, colour } = props;
  useEffect(() => {
    paint.current?.();
  }, [run, scale, topPx, size, fromMm, usedMm, colour]);
  return (
    <canvas
      ref={canvas}
      data-testid="painted-pieces"
      data-count={run.places.size}
      className="pointer-events-none"
      style={{ gridColumn: 2, gridRow: 2, width: size.width, height: size.height }}
    />
  );
}
