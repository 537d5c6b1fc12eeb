import { float64At, int32At, itemAt } from '../../elementAt.ts';
import { ReachableSums } from './reachableSums.ts';
import { StateSet } from './stateSet.ts';
import type { PlacedPiece, SizeClass } from './types.ts';

/** How a search that tries everything ended: nothing is shorter, or it was stopped before it knew. */
export type ExactEnd = 'all tried' | 'stopped';

export interface ExactHooks {
  /** Asked at each state; true gives up. */
  readonly spent: () => boolean;
  /** Told of each packing that is shorter than all before. */
  readonly better: (packing: readonly PlacedPiece[], top: number) => void;
}

/** Beyond so many pieces nothing is ever tried to its end. */
export const MOST_EXACT = 16;
/** Steps of a staircase: one for each piece at most, and the floor. */
const CAP = MOST_EXACT + 4;
/** Share of an area that counts as rounding. */
const ROUNDING = 1e-9;

interface Side {
  readonly w: number;
  readonly h: number;
  readonly classIndex: number;
  readonly turned: boolean;
}

/**
 * Tries every layout of a few rectangles that could be shorter than the best one known, and so either finds a shorter one
 * or proves that there is none.
 *
 * Every layout can be pushed to the front and to the left until no piece moves any more. Its pieces have an order in which
 * nothing comes later that lies left of or in front of an earlier piece, so each is laid into an inner corner of the
 * staircase that covers all before it, and touches a piece (or the edge) at its left and in front:
 *
 *      ┌──┐
 *      │  └──┐ ← a corner at each step: the next piece goes to one of them,
 *      │     │   whatever it shuts in below or at its left stays empty
 *      └─────┴──
 *
 * A state is given up where what is left can't be packed beyond the staircase: by area, with what no sum of sides can fill
 * taken off across and along; by a piece that has no place; or because the same pieces lay under the same staircase before.
 * Of the four mirror images of a layout, the one with the middle of the largest piece in its front left quarter is enough.
 * Source: corner points of Martello, Pisinger and Vigo, “The three-dimensional bin packing problem” (2000), in the plane.
 */
export class ExactSearch {
  private readonly pieces: readonly Side[];
  /** What one piece of a class counts in the number that says what is left. */
  private readonly place: Int32Array;
  private readonly across: ReachableSums;
  private readonly along: ReachableSums;
  private readonly seen = new StateSet();
  /** Of each level: left end and top of each step, where something real begins along its top, and at its left side. */
  private readonly sx: Float64Array;
  private readonly sy: Float64Array;
  private readonly realX: Float64Array;
  private readonly realY: Float64Array;
  private readonly steps: Int32Array;
  private readonly staircase: readonly Float64Array[];
  private readonly left: Int32Array;
  private readonly laid: PlacedPiece[] = [];
  private readonly largest: number;
  private readonly leastArea: Float64Array;
  private restArea: number;
  private rest = 0;
  private readonly whole: number;
  private ceiling = 0;
  private stopped = false;

  constructor(
    private readonly classes: readonly SizeClass[],
    private readonly width: number,
    private readonly floor: number,
    private readonly hooks: ExactHooks,
  ) {
    const area = (c: SizeClass): number => Math.min(c.w * c.h, c.turnable ? c.turnedW * c.turnedH : Infinity);
    this.pieces = classes
      .flatMap((c, classIndex) => [
        { w: c.w, h: c.h, classIndex, turned: false },
        ...(c.turnable ? [{ w: c.turnedW, h: c.turnedH, classIndex, turned: true }] : []),
      ])
      .sort((a, b) => b.w * b.h - a.w * a.h || b.h - a.h || a.classIndex - b.classIndex);
    this.left = Int32Array.from(classes, (c) => c.count);
    this.place = new Int32Array(classes.length);
    let radix = 1;
    let count = 0;
    for (const [i, c] of classes.entries()) {
      this.place[i] = radix;
      this.rest += radix * c.count;
      radix *= c.count + 1;
      count += c.count;
    }
    this.whole = this.rest;
    this.sx = new Float64Array((count + 1) * CAP);
    this.sy = new Float64Array((count + 1) * CAP);
    this.realX = new Float64Array((count + 1) * CAP);
    this.realY = new Float64Array((count + 1) * CAP);
    this.staircase = [this.sx, this.sy, this.realX, this.realY];
    this.steps = new Int32Array(count + 1);
    this.leastArea = Float64Array.from(classes, area);
    this.restArea = classes.reduce((sum, c) => sum + c.count * area(c), 0);
    this.largest = classes.reduce(
      (most, c, i) => (c.count === 1 && (most < 0 || area(c) > float64At(this.leastArea, most)) ? i : most),
      -1,
    );
    const counts = classes.map((c) => c.count);
    this.across = new ReachableSums(
      classes.map((c) => (c.turnable ? [c.w, c.turnedW] : [c.w])),
      counts,
      width,
    );
    this.along = new ReachableSums(
      classes.map((c) => (c.turnable ? [c.h, c.turnedH] : [c.h])),
      counts,
      classes.reduce((sum, c) => sum + c.count * Math.max(c.h, c.turnable ? c.turnedH : 0), 0),
    );
  }

  /** @param top length of the best packing known (grid units): only shorter ones count */
  run(top: number): ExactEnd {
    this.below(top);
    this.sx[0] = 0;
    this.sx[1] = this.width;
    this.sy[0] = 0;
    this.steps[0] = 1;
    this.explore(0);
    return this.stopped ? 'stopped' : 'all tried';
  }

  /** What is shorter ends at a sum of sides, whatever it is. */
  private below(top: number): void {
    this.ceiling = this.along.most(this.whole, top - 1);
  }

  private explore(level: number): void {
    if (this.stopped || this.ceiling < this.floor) return;
    if (this.hooks.spent()) {
      this.stopped = true;
      return;
    }
    if (this.rest === 0) {
      this.keep();
      return;
    }
    const base = level * CAP;
    const steps = int32At(this.steps, level);
    if (this.isHopeless(base, steps)) return;
    if (this.seen.has(this.rest, this.staircase, base, steps) || !this.pairHasPlace(base, steps)) return;
    const spare = this.room(base, steps) - this.restArea * (1 - ROUNDING);
    for (const piece of this.pieces) {
      const { w, h, classIndex } = piece;
      if (this.left[classIndex] === 0) continue;
      const wasted = w * h - float64At(this.leastArea, classIndex);
      for (let k = 0; k < steps; k++) {
        const x = float64At(this.sx, base + k);
        const y = float64At(this.sy, base + k);
        if (x + w > this.width) break;
        if (y + h > this.ceiling) continue;
        if (x + w <= float64At(this.realX, base + k) || y + h <= float64At(this.realY, base + k)) continue;
        if (classIndex === this.largest && (2 * x + w > this.width + 1 || 2 * y + h > this.ceiling + 1)) continue;
        if (wasted + this.shutIn(base, steps, k, x + w, y + h) - w * h > spare) continue;
        this.lay(level, k, piece);
      }
    }
  }

  /** Area beyond the staircase. */
  private room(base: number, steps: number): number {
    let room = 0;
    for (let i = 0; i < steps; i++) {
      const width = float64At(this.sx, base + i + 1) - float64At(this.sx, base + i);
      room += width * (this.ceiling - float64At(this.sy, base + i));
    }
    return room;
  }

  /** Area by which the staircase grows where a piece in corner `k` ends at `right` and `top`. */
  private shutIn(base: number, steps: number, k: number, right: number, top: number): number {
    const { sx, sy } = this;
    let area = 0;
    for (let i = k; i >= 0; i--) {
      const y = float64At(sy, base + i);
      if (y >= top) break;
      area += (float64At(sx, base + i + 1) - float64At(sx, base + i)) * (top - y);
    }
    for (let i = k + 1; i < steps; i++) {
      const from = float64At(sx, base + i);
      if (from >= right) break;
      area += (Math.min(right, float64At(sx, base + i + 1)) - from) * (top - float64At(sy, base + i));
    }
    const end = float64At(sx, base + k + 1);
    return right < end ? area - (end - right) * (top - float64At(sy, base + k)) : area;
  }

  /** Lays a piece into corner `k` and goes on from there. */
  private lay(level: number, k: number, { w, h, classIndex, turned }: Side): void {
    const { sx, sy, realX, realY } = this;
    const from = level * CAP;
    const to = from + CAP;
    const steps = int32At(this.steps, level);
    const x = float64At(sx, from + k);
    const y = float64At(sy, from + k);
    const right = x + w;
    const top = y + h;
    let n = 0;
    // Steps that reach higher stay; all others up to the piece's right end come up to its top.
    while (n < k && float64At(sy, from + n) > top) {
      sx[to + n] = float64At(sx, from + n);
      sy[to + n] = float64At(sy, from + n);
      realX[to + n] = float64At(realX, from + n);
      realY[to + n] = float64At(realY, from + n);
      n += 1;
    }
    const isLevel = n < k && float64At(sy, from + n) === top;
    sx[to + n] = float64At(sx, from + n);
    sy[to + n] = top;
    realX[to + n] = isLevel ? float64At(realX, from + n) : x;
    realY[to + n] = Math.max(top, float64At(realY, from + n));
    n += 1;
    let i = k;
    while (i + 1 < steps && float64At(sx, from + i + 1) <= right) i += 1;
    if (right < this.width) {
      // The step behind the piece begins at its right end; its left side is real from the piece's own front on.
      const ends = i + 1 <= steps && float64At(sx, from + i) === right;
      sx[to + n] = right;
      sy[to + n] = float64At(sy, from + i);
      realX[to + n] = Math.max(right, float64At(realX, from + i));
      realY[to + n] = ends ? Math.min(y, float64At(realY, from + i)) : y;
      n += 1;
      for (let j = i + 1; j < steps; j++, n++) {
        sx[to + n] = float64At(sx, from + j);
        sy[to + n] = float64At(sy, from + j);
        realX[to + n] = float64At(realX, from + j);
        realY[to + n] = float64At(realY, from + j);
      }
    }
    sx[to + n] = this.width;
    this.steps[level + 1] = n;
    const step = int32At(this.place, classIndex);
    const area = float64At(this.leastArea, classIndex);
    this.rest -= step;
    this.restArea -= area;
    this.left[classIndex] = int32At(this.left, classIndex) - 1;
    this.laid.push({ classIndex, turned, x, y });
    this.explore(level + 1);
    this.laid.pop();
    this.left[classIndex] = int32At(this.left, classIndex) + 1;
    this.restArea += area;
    this.rest += step;
  }

  private keep(): void {
    let top = 0;
    for (const { classIndex, turned, y } of this.laid) {
      const c = itemAt(this.classes, classIndex);
      top = Math.max(top, y + (turned ? c.turnedH : c.h));
    }
    if (top > this.ceiling) return;
    this.hooks.better([...this.laid], top);
    this.below(top);
  }

  private isHopeless(base: number, steps: number): boolean {
    const need = this.restArea * (1 - ROUNDING);
    return this.fillAlong(base, steps) < need || this.fillAcross(base, steps) < need || !this.allHavePlace(base, steps);
  }

  /** What columns can hold at most: in each, sides along that add up to no more than is left beyond the staircase. */
  private fillAlong(base: number, steps: number): number {
    const sums = this.along.of(this.rest);
    let fill = 0;
    for (let i = 0; i < steps; i++) {
      const width = float64At(this.sx, base + i + 1) - float64At(this.sx, base + i);
      fill += width * this.along.mostOf(sums, this.ceiling - float64At(this.sy, base + i));
    }
    return fill;
  }

  /** What rows can hold at most: in each, sides across that add up to no more than is left at the staircase's right. */
  private fillAcross(base: number, steps: number): number {
    const sums = this.across.of(this.rest);
    let fill = 0;
    let above = this.ceiling;
    for (let i = 0; i < steps; i++) {
      const y = Math.min(this.ceiling, float64At(this.sy, base + i));
      if (y < above) {
        fill += (above - y) * this.across.mostOf(sums, this.width - float64At(this.sx, base + i));
      }
      above = y;
    }
    return fill;
  }

  /** Whether the two largest pieces that are left have a place beyond the staircase together. */
  private pairHasPlace(base: number, steps: number): boolean {
    let a = -1;
    let b = -1;
    for (const { classIndex } of this.pieces) {
      if (this.left[classIndex] === 0 || classIndex === a) continue;
      if (a >= 0) {
        b = classIndex;
        break;
      }
      a = classIndex;
      if (int32At(this.left, a) > 1) {
        b = a;
        break;
      }
    }
    if (b < 0) return true;
    for (const piece of this.pieces) {
      if (piece.classIndex !== a && piece.classIndex !== b) continue;
      const other = piece.classIndex === a ? b : a;
      for (let k = 0; k < steps; k++) {
        const right = float64At(this.sx, base + k) + piece.w;
        const top = float64At(this.sy, base + k) + piece.h;
        if (right > this.width) break;
        if (top <= this.ceiling && this.hasPlaceBeside(base, steps, right, top, other)) return true;
      }
    }
    return false;
  }

  /** Whether a piece of this class has a place behind or right of one that ends at `right` and `top`. */
  private hasPlaceBeside(base: number, steps: number, right: number, top: number, classIndex: number): boolean {
    for (const { w, h, classIndex: own } of this.pieces) {
      if (own !== classIndex) continue;
      for (let i = 0; i < steps; i++) {
        const x = float64At(this.sx, base + i);
        const y = float64At(this.sy, base + i);
        if (x + w > this.width) break;
        if ((x < right ? Math.max(y, top) : y) + h <= this.ceiling) return true;
        const under = x < right && float64At(this.sx, base + i + 1) > right;
        if (under && right + w <= this.width && y + h <= this.ceiling) return true;
      }
    }
    return false;
  }

  private allHavePlace(base: number, steps: number): boolean {
    let placed = 0;
    let left = 0;
    for (const { w, h, classIndex } of this.pieces) {
      if (this.left[classIndex] === 0) continue;
      const bit = 1 << classIndex;
      left |= bit;
      if ((placed & bit) === 0 && this.hasPlace(base, steps, w, h, classIndex === this.largest)) placed |= bit;
    }
    return placed === left;
  }

  private hasPlace(base: number, steps: number, w: number, h: number, inFront: boolean): boolean {
    for (let k = 0; k < steps; k++) {
      const x = float64At(this.sx, base + k);
      const y = float64At(this.sy, base + k);
      if (x + w > this.width) return false;
      if (y + h > this.ceiling) continue;
      if (!inFront || (2 * x + w <= this.width + 1 && 2 * y + h <= this.ceiling + 1)) return true;
    }
    return false;
  }
}
