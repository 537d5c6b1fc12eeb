import { useCallback, useEffect, useRef } from 'react';
import { snapMove } from '../../../../core/layout/arrange/byHand.ts';
import { layoutSpace } from '../../../../core/layout/marks/markSettings.ts';
import type { RunDetail } from '../../../api/data.ts';
import { type Layout, laidPieces, movedPlaces, type Place } from './layoutState.ts';
import type { Bench } from './useBench.ts';

interface Drag {
  readonly from: Layout;
  readonly keys: ReadonlySet<string>;
  readonly x: number;
  readonly y: number;
  moved: boolean;
}

/** A piece jumps to its neighbour within so many pixels. */
const REACH_PX = 7;

/**
 * A drag is a snapshot, re-applied on each move, one undo mark at its end; Escape goes back. Pieces snap to the gap from
 * their neighbours and to the edges; with Alt they go where the pointer is. Locked pieces stay.
 */
export function usePieceDrag(
  run: RunDetail,
  bench: Bench,
  scale: number,
  selected: ReadonlySet<string>,
  onSelect: (selected: ReadonlySet<string>) => void,
): (key: string, event: React.PointerEvent) => void {
  const drag = useRef<Drag>(undefined);
  const latest = useRef({ run, bench, scale, selected });
  useEffect(() => {
    latest.current = { run, bench, scale, selected };
  });
  useEffect(() => {
    const placesAt = (event: PointerEvent, d: Drag): Map<string, Place> => {
      const { scale: k, run: r, bench: b } = latest.current;
      // On the screen the feed runs to the right and the right edge of the media is up.
      const [dx, dy] = [-(event.clientY - d.y) / k, (event.clientX - d.x) / k];
      const moved = movedPlaces(d.from.places, d.keys, dx, dy);
      if (event.altKey) return moved;
      const laid = laidPieces(r, moved);
      const { gapXMm, gapYMm, leadMm } = layoutSpace(d.from.settings);
      const { dxMm, dyMm } = snapMove(
        laid.filter((piece) => d.keys.has(piece.key)),
        laid.filter((piece) => !d.keys.has(piece.key)),
        { gapXMm, gapYMm, widthMm: b.usable.widthMm, leadMm },
        REACH_PX / k,
      );
      return movedPlaces(d.from.places, d.keys, dx + dxMm, dy + dyMm);
    };
    const onMove = (event: PointerEvent): void => {
      const d = drag.current;
      if (!d) return;
      d.moved ||= Math.hypot(event.clientX - d.x, event.clientY - d.y) > 3;
      if (d.moved) latest.current.bench.preview(placesAt(event, d));
    };
    const onUp = (event: PointerEvent): void => {
      const d = drag.current;
      drag.current = undefined;
      if (d?.moved) latest.current.bench.settle(d.from, placesAt(event, d));
    };
    const onKey = (event: KeyboardEvent): void => {
      const d = drag.current;
      if (event.key !== 'Escape' || !d) return;
      drag.current = undefined;
      latest.current.bench.preview(d.from.places);
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onUp);
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onUp);
      window.removeEventListener('keydown', onKey);
    };
  }, []);
  return useCallback(
    (key, event) => {
      const { bench: b, selected: s } = latest.current;
      event.preventDefault();
      event.stopPropagation();
      const keys = event.shiftKey ? new Set([...s, key]) : s.has(key) ? s : new Set([key]);
      onSelect(keys);
      const free = new Set([...keys].filter((each) => b.layout.places.get(each)?.locked !== true));
      if (b.editable && !b.nest.running && free.size > 0)
        drag.current = { from: b.layout, keys: free, x: event.clientX, y: event.clientY, moved: false };
    },
    [onSelect],
  );
}
