import { float64At, int32At, itemAt, uint8At } from '../../elementAt.ts';
import { nextEnd } from './grid.ts';
import { type PlacedPiece, type SizeClass, leastArea } from './types.ts';
import { type SideIndex, find, sideIndex } from './sideIndex.ts';

/** What the search varies: which size comes first where several fit equally well, and which way it prefers to lie. */
export interface Genome {
  readonly order: Int32Array;
  readonly turned: Uint8Array;
  /** How far down the order an exact match may reach, as a share of all sizes: small pieces are worth keeping for the end. */
  readonly reach: number;
  /** Whether two pieces that fill a gap together are looked for: it takes time that grows with the pieces. */
  readonly pairs: boolean;
}

/** The packing that `decode` left behind; valid until its next call. */
export interface Packing {
  readonly classOf: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly turned: Uint8Array;
  count: number;
}

/*
 * The skyline is the upper edge of what is packed so far, as segments from left to right:
 *
 *      y ^      ┌──┐
 *        │ ┌──┐ │  │          The lowest segment is the gap to fill next; its walls are the steps up to its
 *        │ │  └─┘  └──┐       neighbours (the sides of the strip are endless walls). A piece that fills the gap or is as
 *        └─┴──────────┴─> x   tall as a wall leaves a simpler skyline, so it goes first.
 */
export class SkylinePacker {
  readonly packing: Packing;
  readonly total: number;
  readonly area: number;
  private readonly n: number;
  private readonly classW: Float64Array;
  private readonly classH: Float64Array;
  private readonly turnedW: Float64Array;
  private readonly turnedH: Float64Array;
  private readonly count: Int32Array;
  private readonly left: Int32Array;
  private readonly rank: Int32Array;
  private readonly sx: Float64Array;
  private readonly sy: Float64Array;
  private segments = 0;
  private readonly widths: SideIndex;
  private readonly heights: SideIndex;
  /** Of each distinct width: pieces left that can lie that way. */
  private readonly alive: Int32Array;
  private readonly treeSize: number;
  private readonly minW: Float64Array;
  private readonly minH: Float64Array;
  /** Lowest rank with a piece left, and the last one an exact match may come from. */
  private first = 0;
  private reachRank = 0;
  private foundClass = -1;
  private foundTurned = 0;
  private foundRight = false;

  constructor(
    private readonly classes: readonly SizeClass[],
    private readonly width: number,
    /** No piece may cross a multiple of this: the ends of the sheets. */
    private readonly period = Infinity,
  ) {
    this.n = classes.length;
    this.total = classes.reduce((sum, c) => sum + c.count, 0);
    this.area = leastArea(classes);
    this.classW = Float64Array.from(classes, (c) => c.w);
    this.classH = Float64Array.from(classes, (c) => c.h);
    this.turnedW = Float64Array.from(classes, (c) => c.turnedW);
    this.turnedH = Float64Array.from(classes, (c) => c.turnedH);
    this.count = Int32Array.from(classes, (c) => c.count);
    this.left = new Int32Array(this.n);
    this.rank = new Int32Array(this.n);
    this.sx = new Float64Array(this.total * 2 + 4);
    this.sy = new Float64Array(this.total * 2 + 4);
    this.widths = sideIndex(
      classes,
      (c) => c.w,
      (c) => c.turnedW,
    );
    this.heights = sideIndex(
      classes,
      (c) => c.h,
      (c) => c.turnedH,
    );
    this.alive = new Int32Array(this.widths.sides.length);
    this.treeSize = 1;
    while (this.treeSize < this.n) this.treeSize *= 2;
    this.minW = new Float64Array(this.treeSize * 2);
    this.minH = new Float64Array(this.treeSize * 2);
    this.packing = {
      classOf: new Int32Array(this.total),
      x: new Float64Array(this.total),
      y: new Float64Array(this.total),
      turned: new Uint8Array(this.total),
      count: 0,
    };
  }

  /**
   * Packs in the order of the genome, nothing above `ceiling`. Area lost under the skyline can't be won back, so the
   * attempt is given up as soon as what will find no place must exceed `limit`.
   * @returns the area that found no place (Infinity when given up) and the highest edge reached (grid units)
   */
  decode(genome: Genome, ceiling: number, limit = Infinity): { unplaced: number; top: number } {
    this.reset(genome);
    let remaining = this.total;
    let top = 0;
    let unplaced = this.area;
    let allowance = ceiling * this.width - this.area + limit;
    while (remaining > 0) {
      const at = this.lowest();
      const floor = float64At(this.sy, at);
      const end = nextEnd(floor, this.period);
      if (this.choose(at, genome, Math.min(ceiling, end))) {
        const w = this.foundTurned ? float64At(this.turnedW, this.foundClass) : float64At(this.classW, this.foundClass);
        const h = this.foundTurned ? float64At(this.turnedH, this.foundClass) : float64At(this.classH, this.foundClass);
        if (floor + h > top) top = floor + h;
        unplaced -= w * h;
        remaining -= 1;
        this.place(at, w, h);
      } else if (this.segments === 1 && end >= ceiling) {
        break;
      } else {
        allowance -= this.raise(at, end);
        if (allowance < 0) return { unplaced: Infinity, top };
      }
    }
    return { unplaced: remaining === 0 ? 0 : unplaced, top };
  }

  /** What the last decode laid, in order. */
  placed(): PlacedPiece[] {
    const { packing } = this;
    return Array.from({ length: packing.count }, (_, k) => ({
      classIndex: int32At(packing.classOf, k),
      turned: packing.turned[k] === 1,
      x: float64At(packing.x, k),
      y: float64At(packing.y, k),
    }));
  }

  private reset(genome: Genome): void {
    const { n, treeSize, minW, minH, classW, classH, turnedW, turnedH, alive, widths } = this;
    for (let i = 0; i < n; i++) {
      const index = int32At(genome.order, i);
      const turnable = itemAt(this.classes, index).turnable;
      const w = float64At(classW, index);
      const h = float64At(classH, index);
      this.left[index] = int32At(this.count, index);
      this.rank[index] = i;
      minW[treeSize + i] = turnable ? Math.min(w, float64At(turnedW, index)) : w;
      minH[treeSize + i] = turnable ? Math.min(h, float64At(turnedH, index)) : h;
    }
    alive.fill(0);
    for (let s = 0; s < alive.length; s++) {
      for (let k = int32At(widths.from, s); k < int32At(widths.from, s + 1); k++)
        alive[s] = int32At(alive, s) + int32At(this.count, int32At(widths.entries, k) >> 1);
    }
    minW.fill(Infinity, treeSize + n);
    minH.fill(Infinity, treeSize + n);
    for (let i = treeSize - 1; i > 0; i--) this.pull(i);
    this.segments = 1;
    this.sx[0] = 0;
    this.sy[0] = 0;
    this.sx[1] = this.width;
    this.packing.count = 0;
    this.first = 0;
  }

  private pull(node: number): void {
    const { minW, minH } = this;
    const a = 2 * node;
    minW[node] = float64At(minW, a) < float64At(minW, a + 1) ? float64At(minW, a) : float64At(minW, a + 1);
    minH[node] = float64At(minH, a) < float64At(minH, a + 1) ? float64At(minH, a) : float64At(minH, a + 1);
  }

  private lowest(): number {
    const { sy, segments } = this;
    let at = 0;
    let low = float64At(sy, 0);
    for (let i = 1; i < segments; i++) {
      if (float64At(sy, i) < low) {
        low = float64At(sy, i);
        at = i;
      }
    }
    return at;
  }

  /** Finds the piece for the gap at segment `at`; leaves it in `found…`. */
  private choose(at: number, genome: Genome, ceiling: number): boolean {
    const floor = float64At(this.sy, at);
    const gap = float64At(this.sx, at + 1) - float64At(this.sx, at);
    const room = ceiling - floor;
    if (float64At(this.minW, 1) > gap || float64At(this.minH, 1) > room) return false;
    const wallL = at > 0 ? float64At(this.sy, at - 1) - floor : Infinity;
    const wallR = at + 1 < this.segments ? float64At(this.sy, at + 1) - floor : Infinity;
    this.foundRight = wallR > wallL;
    while (this.left[int32At(genome.order, this.first)] === 0) this.first += 1;
    this.reachRank = this.first + genome.reach * this.n;
    if (this.fillsGap(gap, room, wallL, wallR)) return true;
    if (this.meetsWall(gap, room, wallL, wallR)) return true;
    if (genome.pairs && this.startsPair(gap, room)) return true;
    return this.search(1, gap, room, genome);
  }

  private fillsGap(gap: number, room: number, wallL: number, wallR: number): boolean {
    const { widths, left, rank } = this;
    const s = find(widths.sides, gap);
    if (s < 0 || this.alive[s] === 0) return false;
    let best = -1;
    let bestScore = -1;
    let bestRank = Infinity;
    for (let k = int32At(widths.from, s); k < int32At(widths.from, s + 1); k++) {
      const entry = int32At(widths.entries, k);
      if (left[entry >> 1] === 0) continue;
      const h = this.heightOf(entry);
      if (h > room) continue;
      const score = (h === wallL ? 1 : 0) + (h === wallR ? 1 : 0) + (h === room ? 1 : 0);
      const r = int32At(rank, entry >> 1);
      if (r > this.reachRank && score === 0) continue;
      if (score > bestScore || (score === bestScore && r < bestRank)) {
        best = entry;
        bestScore = score;
        bestRank = r;
      }
    }
    return this.take(best);
  }

  private meetsWall(gap: number, room: number, wallL: number, wallR: number): boolean {
    const { heights, left, rank } = this;
    let best = -1;
    let bestRank = Infinity;
    let right = false;
    for (let side = 0; side < 3; side++) {
      const wall = side === 0 ? wallL : side === 1 ? wallR : room;
      if (wall > room) continue;
      const s = find(heights.sides, wall);
      if (s < 0) continue;
      for (let k = int32At(heights.from, s); k < int32At(heights.from, s + 1); k++) {
        const entry = int32At(heights.entries, k);
        const r = int32At(rank, entry >> 1);
        if (left[entry >> 1] === 0 || r >= bestRank || r > this.reachRank || this.widthOf(entry) > gap) continue;
        best = entry;
        bestRank = r;
        right = side === 1 || (side === 2 && wallR > wallL);
      }
    }
    if (best < 0) return false;
    this.foundRight = right;
    return this.take(best);
  }

  /** The best-ranked piece whose rest of the gap another piece fills exactly. */
  private startsPair(gap: number, room: number): boolean {
    const { widths, alive, rank } = this;
    const { sides } = widths;
    let best = -1;
    let bestRank = Infinity;
    let lo = 0;
    let hi = sides.length - 1;
    if (hi < 0) return false;
    // The hottest loop of the opening: a step loads the one side that changed, without a call.
    let low = sides[lo] ?? 0;
    let high = sides[hi] ?? 0;
    for (;;) {
      const sum = low + high;
      if (sum < gap && alive[hi] !== 0) {
        lo += 1;
        if (lo > hi) break;
        low = sides[lo] ?? 0;
        continue;
      }
      if (sum === gap && alive[hi] !== 0) {
        if (alive[lo] === 0) {
          lo += 1;
          if (lo > hi) break;
          low = sides[lo] ?? 0;
          continue;
        }
        const a = this.bestOf(lo, room, -1);
        const b = a < 0 ? -1 : this.bestOf(hi, room, a);
        if (b >= 0) {
          const ra = int32At(rank, a >> 1);
          const rb = int32At(rank, b >> 1);
          if (Math.min(ra, rb) < bestRank) {
            bestRank = Math.min(ra, rb);
            best = ra < rb ? a : b;
          }
        }
      }
      hi -= 1;
      if (hi < lo) break;
      high = sides[hi] ?? 0;
    }
    return this.take(best);
  }

  /** The best-ranked piece left of width number `s`, beside `taken` if it is the same class. */
  private bestOf(s: number, room: number, taken: number): number {
    const { left, rank } = this;
    const { from, entries } = this.widths;
    // Called from the hottest loop: plain loads, since so many calls would not all be compiled into it.
    const end = from[s + 1] ?? 0;
    let best = -1;
    let bestRank = Infinity;
    for (let k = from[s] ?? 0; k < end; k++) {
      const entry = entries[k] ?? 0;
      const index = entry >> 1;
      const need = taken >= 0 && taken >> 1 === index ? 2 : 1;
      const r = rank[index] ?? 0;
      if ((left[index] ?? 0) < need || r > this.reachRank || r >= bestRank || this.heightOf(entry) > room) continue;
      best = entry;
      bestRank = r;
    }
    return best;
  }

  private widthOf(entry: number): number {
    return (entry & 1 ? this.turnedW[entry >> 1] : this.classW[entry >> 1]) ?? 0;
  }

  private heightOf(entry: number): number {
    return (entry & 1 ? this.turnedH[entry >> 1] : this.classH[entry >> 1]) ?? 0;
  }

  /** First piece by rank that fits the gap and the room above it, by a tree of least sides over the ranks. */
  private search(node: number, gap: number, room: number, genome: Genome): boolean {
    if (float64At(this.minW, node) > gap || float64At(this.minH, node) > room) return false;
    if (node < this.treeSize) {
      return this.search(2 * node, gap, room, genome) || this.search(2 * node + 1, gap, room, genome);
    }
    const index = int32At(genome.order, node - this.treeSize);
    const w = float64At(this.classW, index);
    const h = float64At(this.classH, index);
    const upright = w <= gap && h <= room;
    const turned =
      itemAt(this.classes, index).turnable &&
      float64At(this.turnedW, index) <= gap &&
      float64At(this.turnedH, index) <= room;
    if (!upright && !turned) return false;
    this.foundClass = index;
    this.foundTurned = upright && turned ? uint8At(genome.turned, index) : turned ? 1 : 0;
    return true;
  }

  private take(entry: number): boolean {
    if (entry < 0) return false;
    this.foundClass = entry >> 1;
    this.foundTurned = entry & 1;
    return true;
  }

  private place(at: number, w: number, h: number): void {
    const { packing, sx, sy } = this;
    const floor = float64At(sy, at);
    const x0 = float64At(sx, at);
    const x1 = float64At(sx, at + 1);
    const x = this.foundRight ? x1 - w : x0;
    const k = packing.count++;
    packing.classOf[k] = this.foundClass;
    packing.x[k] = x;
    packing.y[k] = floor;
    packing.turned[k] = this.foundTurned;
    this.use(this.foundClass);
    if (w === x1 - x0) {
      sy[at] = floor + h;
    } else if (this.foundRight) {
      this.insert(at + 1, x, floor + h);
    } else {
      this.insert(at + 1, x0 + w, floor);
      sy[at] = floor + h;
    }
    this.merge(at + 1);
    this.merge(at);
    if (at > 0) this.merge(at - 1);
  }

  private use(index: number): void {
    const left = int32At(this.left, index) - 1;
    this.left[index] = left;
    this.alive[int32At(this.widths.of, index * 2)] = int32At(this.alive, int32At(this.widths.of, index * 2)) - 1;
    const turned = int32At(this.widths.of, index * 2 + 1);
    if (turned >= 0) this.alive[turned] = int32At(this.alive, turned) - 1;
    if (left > 0) return;
    let node = this.treeSize + int32At(this.rank, index);
    this.minW[node] = Infinity;
    this.minH[node] = Infinity;
    for (node >>= 1; node > 0; node >>= 1) this.pull(node);
  }

  private insert(at: number, x: number, y: number): void {
    const { sx, sy } = this;
    for (let i = this.segments; i >= at; i--) sx[i + 1] = float64At(sx, i);
    for (let i = this.segments - 1; i >= at; i--) sy[i + 1] = float64At(sy, i);
    sx[at] = x;
    sy[at] = y;
    this.segments += 1;
  }

  /** Joins segment `at` with the next one where both are level. */
  private merge(at: number): void {
    const { sx, sy } = this;
    if (at + 1 >= this.segments || sy[at] !== sy[at + 1]) return;
    for (let i = at + 1; i < this.segments; i++) sx[i] = float64At(sx, i + 1);
    for (let i = at + 1; i < this.segments - 1; i++) sy[i] = float64At(sy, i + 1);
    this.segments -= 1;
  }

  /** Gives the gap up to its lower wall or the end of the sheet; returns the area lost. */
  private raise(at: number, end: number): number {
    const { sx, sy } = this;
    const left = at > 0 ? float64At(sy, at - 1) : Infinity;
    const right = at + 1 < this.segments ? float64At(sy, at + 1) : Infinity;
    const to = Math.min(left, right, end);
    const lost = (to - float64At(sy, at)) * (float64At(sx, at + 1) - float64At(sx, at));
    sy[at] = to;
    this.merge(at);
    if (at > 0) this.merge(at - 1);
    return lost;
  }
}
