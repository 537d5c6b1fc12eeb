import { useCallback, useEffect, useRef, useState } from 'react';
import { type RectMm, closerThan } from '../../../../core/geometry/frame.ts';
import type { RunDetail } from '../../../api/data.ts';
import { laidPieces } from './layoutState.ts';
import type { Bench } from './useBench.ts';

interface Pull {
  readonly xMm: number;
  readonly yMm: number;
  /** What was chosen before: kept with Shift. */
  readonly kept: ReadonlySet<string>;
}

export interface Lasso {
  /** Where on the media a pointer is, in the frame of the pieces. */
  readonly pointMm: (event: {
    readonly clientX: number;
    readonly clientY: number;
  }) => { readonly xMm: number; readonly yMm: number } | undefined;
  readonly start: (event: React.PointerEvent) => void;
  /** Drawn while it is pulled; in the frame of the pieces. */
  readonly rect: RectMm | undefined;
}

/**
 * Pulling over empty media chooses all pieces that the frame touches; a click there chooses none.
 * @param media the drawing of the media: where millimetres are read off
 */
export function useLasso(
  media: React.RefObject<SVGSVGElement | null>,
  run: RunDetail,
  bench: Bench,
  scale: number,
  selected: ReadonlySet<string>,
  onSelect: (selected: ReadonlySet<string>) => void,
): Lasso {
  const pull = useRef<Pull>(undefined);
  const [rect, setRect] = useState<RectMm>();
  const latest = useRef({ run, bench, scale, selected });
  useEffect(() => {
    latest.current = { run, bench, scale, selected };
  });
  const pointMm = useCallback(
    (event: { readonly clientX: number; readonly clientY: number }) => {
      const { scale: k, run: r, bench: b } = latest.current;
      const box = media.current?.getBoundingClientRect();
      if (!box) return undefined;
      return {
        xMm: r.mediaWidthMm - (event.clientY - box.top) / k - b.usable.fromMm,
        yMm: (event.clientX - box.left) / k,
      };
    },
    [media],
  );
  const start = useCallback(
    (event: React.PointerEvent) => {
      const point = pointMm(event);
      if (!point || event.button !== 0) return;
      const kept = event.shiftKey ? latest.current.selected : new Set<string>();
      pull.current = { ...point, kept };
      onSelect(kept);
    },
    [pointMm, onSelect],
  );
  useEffect(() => {
    const onMove = (event: PointerEvent): void => {
      const from = pull.current;
      const to = from && pointMm(event);
      if (!from || !to) return;
      const frame = {
        xMm: Math.min(from.xMm, to.xMm),
        yMm: Math.min(from.yMm, to.yMm),
        widthMm: Math.abs(from.xMm - to.xMm),
        heightMm: Math.abs(from.yMm - to.yMm),
      };
      setRect(frame);
      const { run: r, bench: b } = latest.current;
      const touched = laidPieces(r, b.layout.places).filter((piece) => closerThan(piece, frame, 0, 0));
      onSelect(new Set([...from.kept, ...touched.map((piece) => piece.key)]));
    };
    const onUp = (): void => {
      pull.current = undefined;
      setRect(undefined);
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onUp);
    return () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onUp);
    };
  }, [pointMm, onSelect]);
  return { start, rect, pointMm };
}
