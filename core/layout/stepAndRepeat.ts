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

export type Stagger = 'none' | 'rows' | 'columns';

export interface StepPlan {
  /** As it lies (mm). */
  readonly piece: { readonly widthMm: number; readonly heightMm: number };
  readonly count: number;
  /** Null: as many as the width takes. */
  readonly columns: number | null;
  readonly roomMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** Every second row is shifted across, or every second column along; the first one never. */
  readonly stagger: Stagger;
  /** Null: half a pitch. */
  readonly shiftMm: number | null;
}

export interface Stepped {
  readonly columns: number;
  readonly rows: number;
  /** Corners from the first row's left one; y from the first row. */
  readonly corners: readonly { readonly xMm: number; readonly yMm: number }[];
  /** From the first to the last edge along the feed. */
  readonly extentMm: number;
}

/**
 * Lays pieces of one size in rows, left to right, row by row. A shifted row loses a piece where it doesn't fit; shifted
 * columns make the extent longer by the shift.
 * @returns undefined where not one piece fits across
 */
export function stepAndRepeat(plan: StepPlan): Stepped | undefined {
  const { piece, count, roomMm, gapXMm, gapYMm, stagger } = plan;
  const pitchX = piece.widthMm + gapXMm;
  const pitchY = piece.heightMm + gapYMm;
  const most = piecesThatFit(roomMm, piece.widthMm, gapXMm);
  const columns = Math.min(most, plan.columns ?? most);
  if (columns < 1) return undefined;
  const shift = plan.shiftMm ?? (stagger === 'rows' ? pitchX : pitchY) / 2;
  const corners: { xMm: number; yMm: number }[] = [];
  let row = 0;
  for (; corners.length < count; row++) {
    const across = stagger === 'rows' && row % 2 === 1 ? shift : 0;
    const fitting = Math.min(columns, piecesThatFit(roomMm - across, piece.widthMm, gapXMm));
    // A shift beyond the room would leave every second row empty for ever.
    const inRow = Math.min(fitting, count - corners.length);
    for (let column = 0; column < inRow; column++) {
      const along = stagger === 'columns' && column % 2 === 1 ? shift : 0;
      corners.push({ xMm: across + column * pitchX, yMm: row * pitchY + along });
    }
    if (fitting === 0 && row > 2 * count) return undefined;
  }
  const end = corners.reduce((furthest, corner) => Math.max(furthest, corner.yMm + piece.heightMm), 0);
  return { columns, rows: row, corners, extentMm: end };
}
