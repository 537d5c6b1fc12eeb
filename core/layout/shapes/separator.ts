import { float64At, itemAt } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import { type ShapeBook, type Orientation, depthAt } from './noFit.ts';
import type { Lying } from './shapePlacer.ts';
import type { LaidShape, ShapeItem } from './shapeSearch.ts';

interface Piece {
  orientation: Orientation;
  x: number;
  y: number;
}

/** Overlaps below this are none (mm). */
const NONE = 1e-4;
/** Places tried at random for each orientation, and around where the piece lies. */
const ANYWHERE = 14;
const NEARBY = 8;
/** How many of them are looked at closely. */
const CLOSELY = 3;
/** A pair that overlaps weighs so much more after each round, one that doesn't a little less. */
const HEAVIER = 1.4;
const LIGHTER = 0.97;
const HEAVIEST = 1e6;
const ROUNDS_WITHOUT_GAIN = 120;

/**
 * Makes a layout shorter by pressing it together: the strip is taken to be shorter than the layout, so that pieces overlap,
 * and then each piece that overlaps is moved to where it does so least. Pairs that go on overlapping weigh more and more, so
 * that the pieces give way to each other until none overlaps, or the attempt is given up.
 */
export class Separator {
  private readonly pieces: Piece[];
  private readonly weights: Float64Array;
  private readonly n: number;
  /** Those before are moved, those from here on stay. */
  private readonly movable: number;
  private readonly xs: Float64Array;
  private readonly ys: Float64Array;
  private readonly ws: Float64Array;
  private readonly hs: Float64Array;

  constructor(
    private readonly items: readonly ShapeItem[],
    private readonly book: ShapeBook,
    private readonly width: number,
    private readonly random: Random,
    /** What stays where it lies, from the leading edge and the left end of the width. */
    private readonly fixed: readonly Lying[] = [],
  ) {
    this.movable = items.length;
    this.n = items.length + fixed.length;
    this.pieces = [];
    this.xs = new Float64Array(this.n);
    this.ys = new Float64Array(this.n);
    this.ws = new Float64Array(this.n);
    this.hs = new Float64Array(this.n);
    this.weights = new Float64Array(this.n * this.n).fill(1);
  }

  /**
   * @param from where the pieces lie
   * @param length the strip is to be no longer than this
   * @param spent asked after every piece that was moved; true to give up
   * @returns the pieces without overlaps, or undefined
   */
  press(from: readonly LaidShape[], length: number, spent: () => boolean): LaidShape[] | undefined {
    this.start(from, length);
    let least = Infinity;
    let without = 0;
    while (without < ROUNDS_WITHOUT_GAIN) {
      const total = this.round(length, spent);
      if (total === undefined) return undefined;
      if (total <= NONE)
        return this.pieces.slice(0, this.movable).map(({ orientation, x, y }, item) => ({ item, orientation, x, y }));
      if (total < least * 0.98) {
        least = total;
        without = 0;
      } else without += 1;
    }
    return undefined;
  }

  private start(from: readonly LaidShape[], length: number): void {
    this.weights.fill(1);
    for (const { item, orientation, x, y } of from) {
      this.put(item, orientation, x, Math.max(0, Math.min(y, length - orientation.height)));
    }
    for (const [i, { orientation, x, y }] of this.fixed.entries()) this.put(this.movable + i, orientation, x, y);
  }

  /** Moves every piece that overlaps once; @returns how much they overlap together afterwards */
  private round(length: number, spent: () => boolean): number | undefined {
    // Also a round in which nothing is left to move counts, or an attempt could go on for ever.
    if (spent()) return undefined;
    const order = this.overlapping();
    for (let k = order.length - 1; k > 0; k--) {
      const other = Math.floor(this.random() * (k + 1));
      [order[k], order[other]] = [itemAt(order, other), itemAt(order, k)];
    }
    for (const i of order) {
      if (spent()) return undefined;
      if (this.costOf(i, itemAt(this.pieces, i).orientation, itemAt(this.pieces, i).x, itemAt(this.pieces, i).y, 0) > 0)
        this.move(i, length);
    }
    return this.weigh();
  }

  private overlapping(): number[] {
    const { movable, pieces } = this;
    const found: number[] = [];
    for (let i = 0; i < movable; i++) {
      const { orientation, x, y } = itemAt(pieces, i);
      if (this.costOf(i, orientation, x, y, 0) > 0) found.push(i);
    }
    return found;
  }

  /** Weighted overlap of a piece at a place with all others; given up once it is more than `most`. */
  private costOf(i: number, orientation: Orientation, x: number, y: number, most: number): number {
    const { n, xs, ys, ws, hs, pieces, weights, book } = this;
    const clear = book.clearance * 1.02;
    const [right, behind] = [x + orientation.width + clear, y + orientation.height + clear];
    const row = i * n;
    let cost = 0;
    for (let j = 0; j < n; j++) {
      // Bounds first: most pieces are far away.
      if (
        float64At(xs, j) >= right ||
        float64At(ys, j) >= behind ||
        x >= float64At(xs, j) + float64At(ws, j) + clear ||
        y >= float64At(ys, j) + float64At(hs, j) + clear
      )
        continue;
      if (j === i) continue;
      const depth = depthAt(
        book.noFit(itemAt(pieces, j).orientation, orientation),
        x - float64At(xs, j),
        y - float64At(ys, j),
      );
      if (depth <= 0) continue;
      cost += depth * float64At(weights, row + j);
      if (cost > most) return cost;
    }
    return cost;
  }

  private put(i: number, orientation: Orientation, x: number, y: number): void {
    this.pieces[i] = { orientation, x, y };
    this.xs[i] = x;
    this.ys[i] = y;
    this.ws[i] = orientation.width;
    this.hs[i] = orientation.height;
  }

  private move(i: number, length: number): void {
    const now = itemAt(this.pieces, i);
    let best = { ...now, cost: this.costOf(i, now.orientation, now.x, now.y, Infinity) };
    for (const orientation of itemAt(this.items, i).orientations) {
      const [roomX, roomY] = [this.width - orientation.width, length - orientation.height];
      if (roomX < -1e-9 || roomY < -1e-9) continue;
      const near: { x: number; y: number; cost: number }[] = [];
      const consider = (px: number, py: number): void => {
        const x = Math.min(Math.max(0, px), Math.max(0, roomX));
        const y = Math.min(Math.max(0, py), Math.max(0, roomY));
        const limit = near.length < CLOSELY ? Infinity : itemAt(near, near.length - 1).cost;
        const cost = this.costOf(i, orientation, x, y, limit);
        if (cost >= limit) return;
        let at = near.length;
        while (at > 0 && itemAt(near, at - 1).cost > cost) at -= 1;
        near.splice(at, 0, { x, y, cost });
        if (near.length > CLOSELY) near.pop();
      };
      consider(now.x, now.y);
      for (let k = 0; k < NEARBY; k++) {
        consider(now.x + (this.random() - 0.5) * orientation.width, now.y + (this.random() - 0.5) * orientation.height);
      }
      for (let k = 0; k < ANYWHERE; k++) consider(this.random() * roomX, this.random() * roomY);
      for (const start of near) {
        const found = this.closely(i, orientation, start, roomX, roomY);
        if (found.cost < best.cost) best = { orientation, ...found };
        if (best.cost <= NONE) break;
      }
      if (best.cost <= NONE) break;
    }
    this.put(i, best.orientation, best.x, best.y);
  }

  /** Goes downhill in ever smaller steps, along the sides and aslant. */
  private closely(
    i: number,
    orientation: Orientation,
    start: { readonly x: number; readonly y: number; readonly cost: number },
    roomX: number,
    roomY: number,
  ): { x: number; y: number; cost: number } {
    let { x, y, cost } = start;
    let step = Math.min(orientation.width, orientation.height) * 0.12;
    while (step > 0.002 && cost > NONE) {
      let better = false;
      const turn = this.random() * Math.PI;
      for (let k = 0; k < 4; k++) {
        const angle = k < 2 ? k * (Math.PI / 2) : turn + k * (Math.PI / 2);
        for (const sign of [1, -1]) {
          const nx = Math.min(Math.max(0, x + sign * step * Math.cos(angle)), Math.max(0, roomX));
          const ny = Math.min(Math.max(0, y + sign * step * Math.sin(angle)), Math.max(0, roomY));
          if (nx === x && ny === y) continue;
          // What hardly helps would be followed in ever so many steps.
          const c = this.costOf(i, orientation, nx, ny, cost * 0.999);
          if (c < cost * 0.999) {
            [x, y, cost] = [nx, ny, c];
            better = true;
          }
        }
      }
      if (!better) step /= 2.2;
    }
    return { x, y, cost };
  }

  /** Weighs pairs anew; @returns the unweighted overlap of all */
  private weigh(): number {
    const { n, movable, pieces, weights, book } = this;
    let total = 0;
    for (let i = 0; i < movable; i++) {
      for (let j = i + 1; j < n; j++) {
        const [a, b] = [itemAt(pieces, i), itemAt(pieces, j)];
        const depth = depthAt(book.noFit(a.orientation, b.orientation), b.x - a.x, b.y - a.y);
        total += depth;
        const weight = float64At(weights, i * n + j);
        const next = depth > NONE ? Math.min(HEAVIEST, weight * HEAVIER) : Math.max(1, weight * LIGHTER);
        weights[i * n + j] = next;
        weights[j * n + i] = next;
      }
    }
    return total;
  }
}
