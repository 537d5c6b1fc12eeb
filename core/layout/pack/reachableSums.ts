import { int32At, itemAt } from '../../elementAt.ts';
import { addShifted } from './bitSet.ts';
import { commonUnit } from './grid.ts';

/** Sums are told apart by at most so many cells; where sides share a coarser step, exactly. */
const MOST_CELLS = 16_384;
/** Words of memory for all sets together. */
const MOST_WORDS = 12_000_000;

/**
 * Which lengths a handful of pieces can add up to, each lying one way or the other or being left out. Kept for each set of
 * pieces that is asked for, as one bit a sum; a set is the number that the search counts what is left by.
 */
export class ReachableSums {
  private readonly unit: number;
  private readonly exact: boolean;
  private readonly words: number;
  /** Exact cells are met in spite of rounding. */
  private readonly nudge: number;
  private readonly radix: Int32Array;
  private readonly spans: readonly (readonly number[])[];
  private readonly sets = new Map<number, Int32Array>();

  /**
   * @param sides the sides that a piece of each class can show
   * @param limit the largest sum of interest
   */
  constructor(
    private readonly sides: readonly (readonly number[])[],
    private readonly counts: readonly number[],
    private readonly limit: number,
  ) {
    let radix = 1;
    this.radix = Int32Array.from(counts, (count) => {
      const own = radix;
      radix *= count + 1;
      return own;
    });
    const cells = Math.max(256, Math.min(MOST_CELLS, Math.floor((MOST_WORDS / radix) * 32)));
    const common = commonUnit(sides.flat());
    this.exact = limit / common <= cells;
    this.unit = this.exact ? common : limit / cells;
    this.nudge = this.exact ? 1e-9 : 0;
    this.words = (Math.floor(limit / this.unit) >> 5) + 1;
    this.spans = sides.map((each) => each.map((side) => Math.floor(side / this.unit + (this.exact ? 0.5 : 0))));
  }

  /** The largest sum of sides of these pieces that is not above `length`; where sums are told apart coarsely, no less than it. */
  most(set: number, length: number): number {
    return this.mostOf(this.of(set), length);
  }

  /** As `most`, for a set that is asked for often: `of` it once. */
  mostOf(sums: Int32Array, length: number): number {
    if (length <= 0) return 0;
    const cell = Math.floor(Math.min(length, this.limit) / this.unit + this.nudge);
    let word = cell >> 5;
    let bits = int32At(sums, word) & (0xffffffff >>> (31 - (cell & 31)));
    while (bits === 0 && word > 0) {
      word -= 1;
      bits = int32At(sums, word);
    }
    const found = word * 32 + (bits === 0 ? 0 : 31 - Math.clz32(bits));
    // What was rounded off each side may have been a whole cell.
    return this.exact ? found * this.unit : Math.min(length, (found + int32At(sums, this.words)) * this.unit);
  }

  private pieces(set: number): number {
    let count = 0;
    for (const [c, most] of this.counts.entries()) count += Math.floor(set / int32At(this.radix, c)) % (most + 1);
    return count;
  }

  /** A bit for each sum, and behind them how many pieces there are. */
  of(set: number): Int32Array {
    const known = this.sets.get(set);
    if (known) return known;
    const sums = new Int32Array(this.words + 1);
    sums[0] = 1;
    if (set > 0) {
      // One piece of the first class in it, on top of what the others reach.
      const c = this.counts.findIndex((most, i) => Math.floor(set / int32At(this.radix, i)) % (most + 1) > 0);
      const others = this.of(set - int32At(this.radix, c));
      sums.set(others);
      for (const span of itemAt(this.spans, c)) addShifted(sums, 0, others, 0, this.words, span);
    }
    sums[this.words] = this.pieces(set);
    this.sets.set(set, sums);
    return sums;
  }
}
