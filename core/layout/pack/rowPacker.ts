import { float64At, int32At, itemAt } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import { commonUnit } from './grid.ts';
import type { BeamStart, PlacedPiece, SizeClass } from './types.ts';
import { type Gap, RowSkyline } from './rowSkyline.ts';
import { SubsetSum } from './subsetSum.ts';

/** Widths are summed in at most so many cells across; finer sizes are rounded up. */
const MOST_CELLS = 16_000;
/** Candidates for one row; more would hardly find what these don't. */
const MOST_MEMBERS = 48;
/** Rows may stay short of their gap by this share of the whole width. */
const SLACK = 0.0003;
/** Heights in a row may differ by this share of the width at first, then by ever more. */
const FIRST_TOLERANCE = 0.0001;
const WIDEN = 1.7;
const LEVELS = 15;
/** Largest pieces that a narrow gap is tried with at each tolerance. */
const TRIES = 10;
const CANDIDATES = 60;
/** The time is asked for once in so many rows that are tried. */
const ASKED_EVERY = 32;
/** Used-up classes are forgotten so many at a time. */
const BURIED = 256;
/** So many entries are looked at for one place. */
const FEW = 600;
/** A piece that is this many times higher than the mean can't find others for a row: it goes in first. */
const TALL = 6;

export interface RowPacking {
  readonly placed: readonly PlacedPiece[];
  /** Where the search goes on with what is left. */
  readonly start: BeamStart;
}

/**
 * Packs many pieces in rows that fill a gap of the skyline exactly: pieces of nearly equal height whose widths add up to the
 * gap, found by a subset sum, the largest pieces first. Heights fall along one row and rise along the next, so that tops
 * stay level. Stops when few pieces are left, the smallest: they are for the beam to level the end with.
 *
 *      ┌──┬────┬───┬──┐   rises
 *      ├──┴─┬──┴┬──┴──┤
 *      │    │   │     │   falls; nothing is lost across, next to nothing along
 *      └────┴───┴─────┘
 */
export class RowPacker {
  private readonly unit: number;
  private readonly cells: number;
  /** Of each entry (class · 2 + turned): width, height, width in cells rounded up, so that a row which fits in cells fits. */
  private readonly w: Float64Array;
  private readonly h: Float64Array;
  private readonly span: Int32Array;
  private readonly left: Int32Array;
  private readonly sums: SubsetSum;
  private readonly mark: Int32Array;
  private stamp = 0;
  private remaining: number;
  /** Entries (class · 2 + turned) that are left, by falling height. */
  private entries: Int32Array;
  private order: Int32Array;
  /** Spans of all copies of the entries before each one: an upper bound of what a window can fill. */
  private spansBefore = new Float64Array(0);
  private buried = 0;
  private readonly skyline: RowSkyline;
  private readonly placed: PlacedPiece[] = [];
  private packedArea = 0;
  private falls = true;
  private tolerance = 0;
  private level = 0;
  private nextMust = 0;
  private byWidth: Int32Array;
  private nextNarrow = 0;
  steps = 0;

  constructor(
    private readonly classes: readonly SizeClass[],
    private readonly width: number,
    /** How far the order of the pieces may stray from largest first, for variety between attempts. */
    noise = 0,
    random: Random = () => 0.5,
  ) {
    // Of the pieces alone: what the width has beyond a multiple of it no row can fill.
    const unit = commonUnit(classes.flatMap((c) => (c.turnable ? [c.w, c.turnedW] : [c.w])));
    this.unit = Math.max(unit, width / MOST_CELLS);
    this.cells = Math.floor(width / this.unit + 1e-9);
    this.w = Float64Array.from(classes.flatMap((c) => [c.w, c.turnedW]));
    this.h = Float64Array.from(classes.flatMap((c) => [c.h, c.turnedH]));
    this.span = Int32Array.from(this.w, (w) => Math.ceil(w / this.unit - 1e-9));
    this.left = Int32Array.from(classes, (c) => c.count);
    this.remaining = this.left.reduce((sum, n) => sum + n, 0);
    this.sums = new SubsetSum(this.cells, MOST_MEMBERS);
    this.mark = new Int32Array(classes.length);
    const entries = classes.flatMap((c, i) => (c.turnable ? [2 * i, 2 * i + 1] : [2 * i]));
    this.entries = Int32Array.from(entries.sort((a, b) => float64At(this.h, b) - float64At(this.h, a) || a - b));
    const rank = classes.map((c) => c.w * c.h * Math.exp(noise * (random() - 0.5)));
    this.order = Int32Array.from(classes.map((_, i) => i).sort((a, b) => itemAt(rank, b) - itemAt(rank, a) || a - b));
    this.byWidth = this.entries.slice().sort((a, b) => float64At(this.w, a) - float64At(this.w, b) || a - b);
    this.sumSpans();
    this.skyline = new RowSkyline(width);
  }

  /**
   * @param keep stops when no more than so many pieces are left
   * @param spent asked before each row that is tried; true gives up
   */
  run(keep: number, spent: () => boolean): RowPacking | undefined {
    this.layUpright();
    while (this.remaining > keep) {
      if (spent()) return undefined;
      this.compact();
      const gap = this.skyline.lowestGap(this.tolerance);
      if (gap.width < this.narrowest()) {
        this.skyline.raise(gap);
        continue;
      }
      if (gap.width === this.width ? this.fillWhole(gap, spent) : this.fillNarrow(gap)) continue;
      if (gap.width < this.width) this.skyline.raise(gap);
      else if (!this.single(gap)) break;
    }
    return { placed: this.placed, start: this.start() };
  }

  /** Least width of what is left. */
  private narrowest(): number {
    const { byWidth, left } = this;
    while (this.nextNarrow < byWidth.length - 1 && left[int32At(byWidth, this.nextNarrow) >> 1] === 0)
      this.nextNarrow += 1;
    return float64At(this.w, int32At(byWidth, this.nextNarrow));
  }

  /** Pieces that tower above all others have no row: they stand side by side first, falling. */
  private layUpright(): void {
    let sum = 0;
    let count = 0;
    for (const c of this.classes) {
      sum += c.count * Math.min(c.h, c.turnable ? c.turnedH : c.h);
      count += c.count;
    }
    const tall = (sum / Math.max(1, count)) * TALL;
    const lying = (i: number): number => {
      const c = itemAt(this.classes, i);
      return c.turnable && c.turnedH < c.h ? 2 * i + 1 : 2 * i;
    };
    const towers = Array.from(this.classes.keys(), lying)
      .filter((entry) => float64At(this.h, entry) > tall)
      .sort((a, b) => float64At(this.h, b) - float64At(this.h, a) || a - b);
    for (const entry of towers) {
      while (int32At(this.left, entry >> 1) > 0) {
        const gap = this.skyline.lowestGap(this.tolerance);
        if (gap.width < float64At(this.w, entry)) {
          if (gap.width === this.width) return;
          // What is left beside the towers is for rows; the next towers begin on top.
          break;
        }
        this.lay([entry], gap);
      }
    }
  }

  private fillWhole(gap: Gap, spent: () => boolean): boolean {
    for (; this.level < LEVELS; this.level += 1, this.nextMust = 0) {
      const tolerance = this.level === 0 ? 0 : FIRST_TOLERANCE * this.width * WIDEN ** this.level;
      this.tolerance = tolerance;
      for (; this.nextMust < this.order.length; this.nextMust += 1) {
        // Where no widths add up, thousands of rows are tried in vain.
        if (this.nextMust % ASKED_EVERY === 0 && spent()) return false;
        const row = this.rowWith(int32At(this.order, this.nextMust), gap, tolerance);
        if (row) {
          this.lay(row, gap);
          return true;
        }
      }
    }
    return false;
  }

  private fillNarrow(gap: Gap): boolean {
    const room = Math.min(gap.wallL, gap.wallR) - gap.base;
    const lowest = this.entries.length > 0 ? float64At(this.h, int32At(this.entries, this.entries.length - 1)) : 0;
    const largest = this.largest(gap.width, room - lowest);
    for (let level = 0; level < LEVELS; level++) {
      const tolerance = Math.max(this.tolerance, level === 0 ? 0 : FIRST_TOLERANCE * this.width * WIDEN ** level);
      const row = this.levelRow(gap, room, tolerance) ?? this.freeRow(largest, gap, tolerance);
      if (row) {
        this.lay(row, gap);
        return true;
      }
    }
    return this.single(gap);
  }

  /** Entries of the largest pieces that fit into so much width and height, the largest first. */
  private largest(width: number, room: number, most = CANDIDATES): number[] {
    const { byWidth, entries, left, w, h } = this;
    const narrow = this.widerThan(width);
    const low = entries.length - this.firstUnder(room);
    const few = narrow < low ? byWidth.subarray(0, narrow) : entries.subarray(entries.length - low);
    // Of many some of the largest are enough: one in so many is looked at, so that all sizes come up.
    const stride = Math.ceil(few.length / FEW);
    const found: number[] = [];
    for (let k = few.length - 1; k >= 0; k -= stride) {
      const entry = int32At(few, k);
      if (int32At(left, entry >> 1) > 0 && float64At(w, entry) <= width && float64At(h, entry) <= room)
        found.push(entry);
    }
    return found
      .sort((a, b) => float64At(w, b) * float64At(h, b) - float64At(w, a) * float64At(h, a) || a - b)
      .slice(0, most);
  }

  /** First place in `byWidth` of a wider entry. */
  private widerThan(width: number): number {
    let lo = 0;
    let hi = this.byWidth.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (float64At(this.w, int32At(this.byWidth, mid)) <= width) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  /** A row that ends level with the lower wall. */
  private levelRow(gap: Gap, room: number, tolerance: number): number[] | undefined {
    const { entries } = this;
    let tries = TRIES;
    for (
      let k = this.firstUnder(room);
      k < entries.length && float64At(this.h, int32At(entries, k)) >= room - tolerance;
      k++
    ) {
      const entry = int32At(entries, k);
      if (this.left[entry >> 1] === 0 || float64At(this.w, entry) > gap.width) continue;
      const row = this.rowOf(entry, k, gap, tolerance);
      if (row) return row;
      tries -= 1;
      if (tries === 0) break;
    }
    return undefined;
  }

  private freeRow(largest: readonly number[], gap: Gap, tolerance: number): number[] | undefined {
    const before = this.steps;
    for (const entry of largest) {
      const row = this.rowOf(entry, this.firstUnder(float64At(this.h, entry)), gap, tolerance);
      if (row) return row;
      if (this.steps - before >= TRIES) break;
    }
    return undefined;
  }

  private rowWith(index: number, gap: Gap, tolerance: number): number[] | undefined {
    if (this.left[index] === 0) return undefined;
    const c = itemAt(this.classes, index);
    const lyingFirst = c.turnable && c.turnedH < c.h ? 1 : 0;
    for (let way = 0; way < (c.turnable ? 2 : 1); way++) {
      const entry = 2 * index + (way ^ lyingFirst);
      if (float64At(this.w, entry) > gap.width) continue;
      const row = this.rowOf(entry, this.firstUnder(float64At(this.h, entry)), gap, tolerance);
      if (row) return row;
    }
    return undefined;
  }

  /** First entry that is no higher than this. */
  private firstUnder(h: number): number {
    let lo = 0;
    let hi = this.entries.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (float64At(this.h, int32At(this.entries, mid)) > h) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  /** A row with `must` as its highest piece that fills the gap, or undefined. */
  private rowOf(must: number, from: number, gap: Gap, tolerance: number): number[] | undefined {
    const { entries, left, mark } = this;
    const goal = Math.floor(gap.width / this.unit + 1e-9);
    const slack = Math.floor(this.cells * SLACK);
    const first = int32At(this.span, must);
    if (first > goal) return undefined;
    if (first >= goal - slack) return [must];
    const least = float64At(this.h, must) - tolerance;
    const to = this.firstUnder(least - 0.5);
    if (float64At(this.spansBefore, to) - float64At(this.spansBefore, from) < goal - slack - first) return undefined;
    this.stamp += 1;
    mark[must >> 1] = this.stamp;
    const members: number[] = [];
    let total = first;
    if (int32At(left, must >> 1) > 1) total += this.copies(members, must, int32At(left, must >> 1) - 1, goal);
    for (let k = from; k < to; k++) {
      const entry = int32At(entries, k);
      if (left[entry >> 1] === 0 || mark[entry >> 1] === this.stamp || float64At(this.w, entry) > gap.width) continue;
      mark[entry >> 1] = this.stamp;
      total += this.copies(members, entry, int32At(left, entry >> 1), goal);
    }
    if (total < goal - slack) return undefined;
    members.sort(
      (a, b) => float64At(this.w, b) * float64At(this.h, b) - float64At(this.w, a) * float64At(this.h, a) || a - b,
    );
    if (members.length > MOST_MEMBERS) members.length = MOST_MEMBERS;
    this.steps += 1;
    const spans = members.map((entry) => int32At(this.span, entry));
    const found = this.sums.find(first, spans, goal, slack);
    return found && [must, ...found.map((m) => itemAt(members, m))];
  }

  /** As many copies as may stand side by side in the gap. */
  private copies(members: number[], entry: number, count: number, goal: number): number {
    const span = int32At(this.span, entry);
    const n = Math.min(count, Math.floor(goal / span));
    for (let i = 0; i < n; i++) members.push(entry);
    return n * span;
  }

  /** The largest piece that fits, where no row does. */
  private single(gap: Gap): boolean {
    const [entry] = this.largest(gap.width, Math.min(gap.wallL, gap.wallR) - gap.base, 1);
    if (entry === undefined) return false;
    this.lay([entry], gap);
    return true;
  }

  /** Lays a row on the skyline of its gap: the highest piece at the higher wall. */
  private lay(row: readonly number[], gap: Gap): void {
    const fromLeft = gap.wallL === gap.wallR ? this.falls : gap.wallL > gap.wallR;
    this.falls = !this.falls;
    const { w, h } = this;
    const sorted = [...row].sort((a, b) => (float64At(h, b) - float64At(h, a)) * (fromLeft ? 1 : -1) || a - b);
    const sides = sorted.map((entry) => ({ w: float64At(w, entry), h: float64At(h, entry) }));
    for (const [i, { x, y }] of this.skyline.lay(sides, gap, fromLeft).entries()) {
      const entry = itemAt(sorted, i);
      this.placed.push({ classIndex: entry >> 1, turned: (entry & 1) === 1, x, y });
      this.packedArea += float64At(w, entry) * float64At(h, entry);
      this.left[entry >> 1] = int32At(this.left, entry >> 1) - 1;
      if (this.left[entry >> 1] === 0) this.buried += 1;
      this.remaining -= 1;
    }
  }

  private sumSpans(): void {
    const { entries, span, left } = this;
    this.spansBefore = new Float64Array(entries.length + 1);
    for (let k = 0; k < entries.length; k++) {
      this.spansBefore[k + 1] =
        float64At(this.spansBefore, k) + int32At(span, int32At(entries, k)) * int32At(left, int32At(entries, k) >> 1);
    }
  }

  /** Forgets entries of classes that are used up. */
  private compact(): void {
    if (this.buried < BURIED) return;
    this.buried = 0;
    this.entries = this.entries.filter((entry) => int32At(this.left, entry >> 1) > 0);
    this.byWidth = this.byWidth.filter((entry) => int32At(this.left, entry >> 1) > 0);
    this.nextNarrow = 0;
    this.sumSpans();
    const passed = this.order.slice(0, this.nextMust).filter((index) => int32At(this.left, index) > 0).length;
    this.order = this.order.filter((index) => int32At(this.left, index) > 0);
    this.nextMust = passed;
  }

  private start(): BeamStart {
    const { xs, ys } = this.skyline;
    const under = ys.reduce((sum, y, i) => sum + y * (itemAt(xs, i + 1) - itemAt(xs, i)), 0);
    return {
      left: this.left.slice(),
      sx: Float64Array.from(xs),
      sy: Float64Array.from(ys),
      segments: ys.length,
      waste: under - this.packedArea,
      packedArea: this.packedArea,
      packedCount: this.placed.length,
    };
  }
}
