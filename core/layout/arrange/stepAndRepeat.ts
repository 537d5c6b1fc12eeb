import { toGrid } from '../pack/grid.ts';

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

/** How rows lie to each other: straight, every second row or column shifted, or each row farther than the one before it. */
export const STAGGERS = ['none', 'rows', 'columns', 'each row'] as const;
export type Stagger = (typeof STAGGERS)[number];

/** How every second row is turned. */
export const ROW_TURNS = ['none', 'half', 'quarter'] as const;
export type RowTurn = (typeof ROW_TURNS)[number];

/** Rows and columns of one piece. What is left out is filled from what is given. */
export interface StepPlan {
  /** As it lies in the first row (mm). */
  readonly piece: { readonly widthMm: number; readonly heightMm: number };
  /** Null: as many as the length takes. */
  readonly count: number | null;
  /** From the first to the last edge along the feed; null: as long as the count needs. */
  readonly lengthMm: number | null;
  /** Null: as many as the width takes. */
  readonly columns: number | null;
  readonly roomMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** The first row, and the first column, are never shifted. */
  readonly stagger: Stagger;
  /** Null: half a pitch. */
  readonly shiftMm: number | null;
  readonly everySecond: RowTurn;
}

export interface StepCorner {
  readonly xMm: number;
  readonly yMm: number;
  /** Turned beside the first row. */
  readonly turnDeg: 0 | 90 | 180;
}

export interface Stepped {
  /** Of the first row. */
  readonly columns: number;
  readonly rows: number;
  /** Corners from the first row's left one; y from the first row. */
  readonly corners: readonly StepCorner[];
  /** From the first to the last edge along the feed. */
  readonly extentMm: number;
}

/** A length takes no more rows than this; beyond it somebody has mistyped. */
const MOST_PIECES = 50_000;

/**
 * Lays pieces of one size in rows, left to right, row by row, until all are laid or the length is full. A shifted row loses a
 * piece where it doesn't fit; shifted columns make the extent longer by the shift.
 * @returns undefined where not one piece fits across, in a row of either kind, or along
 */
export function stepAndRepeat(plan: StepPlan): Stepped | undefined {
  const { piece, count, lengthMm, roomMm, gapXMm, gapYMm } = plan;
  // Columns that interlock must be of one kind.
  const stagger = plan.everySecond === 'quarter' && plan.stagger === 'columns' ? 'none' : plan.stagger;
  const most = piecesThatFit(roomMm, piece.widthMm, gapXMm);
  const columns = Math.min(most, plan.columns ?? most);
  if (columns < 1) return undefined;
  const blockMm = neededExtentMm(columns, piece.widthMm, gapXMm);
  const pitchX = piece.widthMm + gapXMm;
  const shift = plan.shiftMm ?? (stagger === 'columns' ? piece.heightMm + gapYMm : pitchX) / 2;
  const wanted = Math.min(count ?? MOST_PIECES, MOST_PIECES);
  const corners: StepCorner[] = [];
  let row = 0;
  let extentMm = 0;
  let top = 0;
  for (; corners.length < wanted; row++) {
    const second = row % 2 === 1 ? plan.everySecond : 'none';
    const quarter = second === 'quarter';
    const [w, h] = quarter ? [piece.heightMm, piece.widthMm] : [piece.widthMm, piece.heightMm];
    // Pieces that lie the other way fill the same block.
    const room = quarter && plan.columns !== null ? Math.max(blockMm, w) : roomMm;
    const fits = (from: number): number =>
      Math.min(quarter ? Infinity : columns, piecesThatFit(Math.min(room, roomMm) - from, w, gapXMm));
    // What would leave no room for a single piece is not shifted.
    const wish = acrossOf(stagger, row, shift, pitchX);
    const across = fits(wish) > 0 ? wish : 0;
    const fitting = fits(across);
    if (fitting === 0) return undefined;
    const shifted = stagger === 'columns' && fitting > 1 ? shift : 0;
    if (lengthMm !== null && toGrid(top + h + shifted) > toGrid(lengthMm)) break;
    const inRow = Math.min(fitting, wanted - corners.length);
    for (let column = 0; column < inRow; column++) {
      const along = stagger === 'columns' && column % 2 === 1 ? shift : 0;
      corners.push({ xMm: across + column * (w + gapXMm), yMm: top + along, turnDeg: TURN_DEG[second] });
      extentMm = Math.max(extentMm, top + along + h);
    }
    top += h + gapYMm;
  }
  if (corners.length === 0) return undefined;
  return { columns, rows: row, corners, extentMm };
}

const TURN_DEG = { none: 0, half: 180, quarter: 90 } as const;

function acrossOf(stagger: Stagger, row: number, shift: number, pitch: number): number {
  if (stagger === 'rows') return row % 2 === 1 ? shift : 0;
  return stagger === 'each row' ? (row * shift) % pitch : 0;
}
