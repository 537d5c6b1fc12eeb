import { float64At, int32At, itemAt } from '../../elementAt.ts';
import { nextEnd } from './grid.ts';
import type { PlacedPiece, SizeClass } from './types.ts';

/**
 * Rows across the media in the order given: the first piece of the sequence lies first, each next one beside it or in the
 * next row. Where rows end and which way pieces lie is chosen so that the last row ends as early as rows can: exact, by
 * dynamic programming over the places where a row may begin.
 * @param sequence class of each piece, in its order; every class fits the width in one of its positions
 * @param width grid units, like the classes with the gap; `period`: no row crosses a multiple of it
 */
export function rowsInOrder(
  classes: readonly SizeClass[],
  sequence: readonly number[],
  width: number,
  period = Infinity,
): PlacedPiece[] {
  const n = sequence.length;
  const ends = new Float64Array(n + 1).fill(Infinity);
  const cameFrom = new Int32Array(n + 1);
  const heights = new Float64Array(n + 1);
  ends[0] = 0;
  for (let i = 0; i < n; i++) {
    const longest = rowReach(classes, sequence, i, width);
    for (const height of heightsOf(classes, sequence, i, longest)) {
      if (height > period) continue;
      const start = rowStart(float64At(ends, i), height, period);
      let used = 0;
      for (let j = i; j < longest; j++) {
        const least = narrowest(itemAt(classes, itemAt(sequence, j)), height);
        if (least === undefined || used + least.w > width) break;
        used += least.w;
        if (start + height < float64At(ends, j + 1)) {
          ends[j + 1] = start + height;
          cameFrom[j + 1] = i;
          heights[j + 1] = height;
        }
      }
    }
  }
  const placed: PlacedPiece[] = [];
  for (let j = n; j > 0; j = int32At(cameFrom, j)) {
    const row: PlacedPiece[] = [];
    let x = 0;
    const y = float64At(ends, j) - float64At(heights, j);
    for (let k = int32At(cameFrom, j); k < j; k++) {
      const classIndex = itemAt(sequence, k);
      const way = narrowest(itemAt(classes, classIndex), float64At(heights, j));
      if (!way) throw new Error('a row holds only what is as low as it');
      row.push({ classIndex, turned: way.turned, x, y });
      x += way.w;
    }
    placed.unshift(...row);
  }
  return placed;
}

function rowStart(y: number, height: number, period: number): number {
  const end = nextEnd(y, period);
  return y + height > end ? end : y;
}

/** The position in which a piece is narrowest and not higher than the row. */
function narrowest(c: SizeClass, height: number): { readonly w: number; readonly turned: boolean } | undefined {
  const upright = c.h <= height;
  const turned = c.turnable && c.turnedH <= height;
  if (turned && (!upright || c.turnedW < c.w)) return { w: c.turnedW, turned: true };
  return upright ? { w: c.w, turned: false } : undefined;
}

/** Behind the last piece that a row from `from` on could hold, were it as high as it likes. */
function rowReach(classes: readonly SizeClass[], sequence: readonly number[], from: number, width: number): number {
  let used = 0;
  let at = from;
  for (; at < sequence.length; at++) {
    const c = itemAt(classes, itemAt(sequence, at));
    used += c.turnable ? Math.min(c.w, c.turnedW) : c.w;
    if (used > width) break;
  }
  return at;
}

function heightsOf(classes: readonly SizeClass[], sequence: readonly number[], from: number, to: number): number[] {
  const heights = new Set<number>();
  for (let k = from; k < to; k++) {
    const c = itemAt(classes, itemAt(sequence, k));
    heights.add(c.h);
    if (c.turnable) heights.add(c.turnedH);
  }
  return [...heights];
}
