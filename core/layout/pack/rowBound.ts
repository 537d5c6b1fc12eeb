import { float64At, itemAt } from '../../elementAt.ts';
import { commonUnit } from './grid.ts';
import type { SizeClass } from './types.ts';

/** Widths are told apart by at most so many cells; finer ones are rounded down, which can only make the bound smaller. */
const MOST_CELLS = 16_384;
/** Rows that are tried at most; what has been proven until then counts. */
const MOST_ROWS = 400;
const EPSILON = 1e-9;

/** One way that the lengths of a class can be cut across: so wide in cells, and so much of one piece for each unit of length. */
interface Slice {
  readonly classIndex: number;
  readonly span: number;
  readonly share: number;
  readonly most: number;
}

/**
 * A length that no packing of these pieces can beat (grid units, the gap behind the last piece included): cut any layout
 * into thin rows, then each row holds slices of pieces whose widths add up to no more than the media has, and the rows
 * together hold every piece whole. The least length of rows that do is a linear program over all such rows, solved by
 * adding the row that is worth most until none is worth more than its length. It sees what areas don't: that no widths add
 * up to the media's.
 * Source: Gilmore and Gomory, “A linear programming approach to the cutting-stock problem” (1961).
 */
export function rowBound(classes: readonly SizeClass[], width: number): number {
  const sides = classes.flatMap((c) => (c.turnable ? [c.w, c.turnedW] : [c.w]));
  const unit = Math.max(commonUnit(sides), width / MOST_CELLS);
  const cells = Math.floor(width / unit + 1e-9);
  const slices = classes.flatMap((c, classIndex): Slice[] =>
    [{ w: c.w, h: c.h }, ...(c.turnable ? [{ w: c.turnedW, h: c.turnedH }] : [])].map(({ w, h }) => ({
      classIndex,
      span: Math.max(1, Math.floor(w / unit + 1e-9)),
      share: 1 / h,
      most: Math.min(c.count, Math.floor(cells / Math.max(1, Math.floor(w / unit + 1e-9)))),
    })),
  );
  const program = new CoveringProgram(
    Float64Array.from(classes, (c) => c.count),
    classes.map((_, i) => firstRow(slices, i)),
  );
  let best = 0;
  for (let n = 0; n < MOST_ROWS; n++) {
    const worths = program.worths();
    const { row, worth } = bestRow(slices, cells, worths);
    // Scaled down until no row is worth more than its length, the worths prove their sum (Farley).
    best = Math.max(best, program.valueOf(worths) / Math.max(1, worth));
    if (worth <= 1 + EPSILON || !program.enter(row)) break;
  }
  return best;
}

/** As many slices of one class as lie side by side, the way that holds most. */
function firstRow(slices: readonly Slice[], classIndex: number): Float64Array {
  const shares = slices.filter((slice) => slice.classIndex === classIndex).map(({ share, most }) => share * most);
  const row = new Float64Array(1 + Math.max(...slices.map((slice) => slice.classIndex)));
  row[classIndex] = Math.max(...shares);
  return row;
}

/** The row that is worth most: a knapsack with so many copies of each slice, by halves so that few are looked at. */
function bestRow(
  slices: readonly Slice[],
  cells: number,
  worths: Float64Array,
): { readonly row: Float64Array; readonly worth: number } {
  const value = new Float64Array(cells + 1);
  const bundles: { readonly slice: Slice; readonly times: number }[] = [];
  for (const slice of slices) {
    if (float64At(worths, slice.classIndex) <= 0) continue;
    for (let left = slice.most, times = 1; left > 0; left -= times, times = Math.min(times * 2, left)) {
      bundles.push({ slice, times: Math.min(times, left) });
    }
  }
  const taken = bundles.map(({ slice, times }) => {
    const span = slice.span * times;
    const worth = float64At(worths, slice.classIndex) * slice.share * times;
    const bits = new Uint8Array(cells + 1);
    for (let c = cells; c >= span; c--) {
      const other = float64At(value, c - span) + worth;
      if (other > float64At(value, c)) {
        value[c] = other;
        bits[c] = 1;
      }
    }
    return bits;
  });
  const row = new Float64Array(worths.length);
  let at = cells;
  for (let b = bundles.length - 1; b >= 0; b--) {
    if (itemAt(taken, b)[at] !== 1) continue;
    const { slice, times } = itemAt(bundles, b);
    row[slice.classIndex] = float64At(row, slice.classIndex) + slice.share * times;
    at -= slice.span * times;
  }
  return { row, worth: float64At(value, cells) };
}

/**
 * Least total length of rows that together hold `need` of each class, over the rows that have entered: the simplex method
 * with the inverse of its basis kept. What is held beyond the need costs nothing.
 */
class CoveringProgram {
  private readonly inverse: Float64Array[];
  private readonly amount: Float64Array;
  /** 1 for a row, 0 for what is held beyond the need. */
  private readonly cost: Float64Array;

  constructor(
    private readonly need: Float64Array,
    firsts: readonly Float64Array[],
  ) {
    const n = need.length;
    this.inverse = firsts.map((row, i) => {
      const line = new Float64Array(n);
      line[i] = 1 / float64At(row, i);
      return line;
    });
    this.amount = Float64Array.from(need, (count, i) => count / float64At(itemAt(firsts, i), i));
    this.cost = new Float64Array(n).fill(1);
  }

  /** What one more piece of each class adds to the length; never less than nothing, since more can always be held. */
  worths(): Float64Array {
    for (;;) {
      const worths = this.duals();
      const below = worths.findIndex((worth) => worth < -EPSILON);
      if (below < 0) return worths.map((worth) => Math.max(0, worth));
      const surplus = new Float64Array(worths.length);
      surplus[below] = -1;
      if (!this.enter(surplus, 0)) return worths.map((worth) => Math.max(0, worth));
    }
  }

  valueOf(worths: Float64Array): number {
    return this.need.reduce((sum, count, i) => sum + count * float64At(worths, i), 0);
  }

  /** Takes a column into the basis in place of the one that runs out first; false where none does. */
  enter(column: Float64Array, cost = 1): boolean {
    const n = column.length;
    const moved = this.inverse.map((line) => line.reduce((sum, value, i) => sum + value * float64At(column, i), 0));
    let leaves = -1;
    let least = Infinity;
    for (let i = 0; i < n; i++) {
      const move = itemAt(moved, i);
      if (move <= EPSILON * 1e-3) continue;
      const ratio = float64At(this.amount, i) / move;
      if (ratio < least) {
        least = ratio;
        leaves = i;
      }
    }
    if (leaves < 0) return false;
    const pivot = itemAt(this.inverse, leaves);
    const by = itemAt(moved, leaves);
    for (let j = 0; j < n; j++) pivot[j] = float64At(pivot, j) / by;
    this.amount[leaves] = least;
    this.cost[leaves] = cost;
    for (let i = 0; i < n; i++) {
      if (i === leaves) continue;
      const factor = itemAt(moved, i);
      if (factor === 0) continue;
      const line = itemAt(this.inverse, i);
      for (let j = 0; j < n; j++) line[j] = float64At(line, j) - factor * float64At(pivot, j);
      this.amount[i] = Math.max(0, float64At(this.amount, i) - factor * least);
    }
    return true;
  }

  private duals(): Float64Array {
    const worths = new Float64Array(this.need.length);
    for (const [i, line] of this.inverse.entries()) {
      const cost = float64At(this.cost, i);
      if (cost === 0) continue;
      for (let j = 0; j < worths.length; j++) worths[j] = float64At(worths, j) + cost * float64At(line, j);
    }
    return worths;
  }
}
