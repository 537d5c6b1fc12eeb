import { toGrid } from './grid.ts';

/**
 * Length needed by n pieces of one size in a row: n pieces have n − 1 gaps.
 * Source: a + n·s + (n − 1)·g + b.
 */
export function neededExtentMm(count: number, sizeMm: number, gapMm: number, leadMm = 0, trailMm = 0): number {
  if (count < 1) return leadMm + trailMm;
  return leadMm + count * sizeMm + (count - 1) * gapMm + trailMm;
}

/** How many pieces of one size fit in a row, immune to rounding: floor((W + g) ÷ (s + g)) on whole grid units. */
export function piecesThatFit(roomMm: number, sizeMm: number, gapMm: number): number {
  const pitch = toGrid(sizeMm) + toGrid(gapMm);
  if (pitch <= 0) throw new RangeError(`size and gap must be positive, got ${String(sizeMm)} and ${String(gapMm)}`);
  return Math.max(0, Math.floor((toGrid(roomMm) + toGrid(gapMm)) / pitch));
}

/** An order cut into runs of at most `perRun`; the last one holds the rest. */
export function runsForOrder(quantity: number, perRun: number): { readonly runs: number; readonly last: number } {
  if (quantity < 1 || perRun < 1) throw new RangeError('quantity and pieces per run must be at least 1');
  const runs = Math.ceil(quantity / perRun);
  return { runs, last: quantity - (runs - 1) * perRun };
}
