import { float64At, int32At, itemAt } from '../../elementAt.ts';
import { type NoFit, type Orientation, SIDE, type ShapeBook } from './noFit.ts';
import type { Lying } from './shapePlacer.ts';

/**
 * A pattern that repeats without end: the cell beside itself at each multiple of the pitch, and rows of it behind each
 * other, each row shifted against the one before it.
 *
 *        ◁▷◁▷◁▷     rise
 *      ◁▷◁▷◁▷
 *      └┘ pitch, └┘ shift
 */
export interface Lattice {
  /** From the cell's own corner. */
  readonly cell: readonly Lying[];
  readonly pitch: number;
  readonly shift: number;
  readonly rise: number;
  /** How long all copies come to, a part of a row counted as that part of it (mm). */
  readonly length: number;
}

/** Touching is allowed: a place is blocked only this far inside (mm). */
const TOUCH = 1e-6;
/** Places of the second shape of a cell, and shifts of rows, that are tried first; then nearer and nearer to the best. */
const SAMPLES = 14;
const REFINED = 5;
const ROUGH_SAMPLES = 10;
const ROUGH_REFINED = 2;
const PAIRS_REFINED = 3;
/** A row lies at least this share of its height and the gap behind the one before: no more than so many rows can meet. */
const LEAST_RISE = 0.25;
const ROWS_THAT_MEET = 4;
const CELLS_THAT_MEET = 3;
/** As long as the cell is still looked for: what is found may be too short, and never too long. */
const ROUGH_THAT_MEET = 2;

/**
 * The densest pattern of one shape that is found: of each way that it may lie alone, and of each way with its half turn
 * beside it. Hexagons for round shapes, teeth in teeth for triangles.
 * @param width of the media between its margins (mm): what is dense without end may leave much at the edges
 * @param over asked at every row that is tried, since one of intricate shapes takes long; true: what was found until then counts
 */
export function bestLattice(
  orientations: readonly Orientation[],
  book: ShapeBook,
  width: number,
  copies: number,
  over: () => boolean,
): Lattice | undefined {
  const search = new LatticeSearch(book, width, copies, over);
  for (const orientation of orientations) {
    if (over()) break;
    search.tryCell([{ orientation, x: 0, y: 0 }]);
  }
  for (const a of orientations) {
    const b = orientations.find(
      ({ angleDeg }) => Math.abs(((((angleDeg - a.angleDeg) % 360) + 360) % 360) - 180) < 1e-6,
    );
    // Each pair once: the other way round it is the same pattern.
    if (!b || b.key < a.key) continue;
    search.tryPairs(a, b);
  }
  return search.best;
}

function heightOf(cell: readonly Lying[]): number {
  return Math.max(...cell.map(({ y, orientation }) => y + orientation.height));
}

class LatticeSearch {
  best: Lattice | undefined;
  private lo: number[] = [];
  private hi: number[] = [];

  constructor(
    private readonly book: ShapeBook,
    private readonly width: number,
    private readonly copies: number,
    private readonly over: () => boolean,
  ) {}

  tryPairs(a: Orientation, b: Orientation): void {
    const fit = this.book.noFit(a, b);
    let [from, to] = [fit.minY, fit.maxY];
    for (let round = 0; round < PAIRS_REFINED; round++) {
      let best = { length: Infinity, y: (from + to) / 2 };
      for (let i = 0; i <= SAMPLES; i++) {
        if (this.over()) return;
        const y = from + ((to - from) * i) / SAMPLES;
        const lattice = this.tryCell(this.pair(a, b, y), ROUGH_SAMPLES, ROUGH_REFINED);
        if (lattice && lattice.length < best.length) best = { length: lattice.length, y };
      }
      const half = (to - from) / SAMPLES;
      [from, to] = [best.y - half, best.y + half];
      // Exactly only where it may beat what there is: rough figures are never too large.
      if (!this.best || best.length < this.best.length) this.tryCell(this.pair(a, b, best.y));
    }
  }

  /** `b` as near to the right of `a` as it can lie at this height. */
  private pair(a: Orientation, b: Orientation, y: number): Lying[] {
    this.clear();
    this.block(this.book.noFit(a, b), y, 0, 'across', 1);
    const x = this.firstFree(0);
    const low = Math.min(0, y);
    return [
      { orientation: a, x: 0, y: -low },
      { orientation: b, x, y: y - low },
    ];
  }

  /** The densest pattern of a cell; kept where it is the best of all. */
  tryCell(cell: readonly Lying[], samples = SAMPLES, refined = REFINED): Lattice | undefined {
    const rough = refined < REFINED;
    let best: Lattice | undefined;
    for (const pitch of this.pitches(cell, rough)) {
      const found = this.bestShift(cell, pitch, samples, refined);
      if (found && (!best || found.length < best.length)) best = found;
    }
    if (rough) return best;
    if (best && (!this.best || best.length < this.best.length - 1e-9)) this.best = best;
    return best;
  }

  /** As near as the cells can lie, and so that they fill the width from edge to edge: the next row may then come nearer. */
  private pitches(cell: readonly Lying[], rough: boolean): number[] {
    const [first] = cell;
    if (!first) return [];
    const least = this.leastPitch(cell, rough);
    const room = this.width - first.orientation.width - first.x;
    for (let across = Math.floor(room / least + 1e-9); across > 0; across--) {
      const filled = room / across;
      // Cells that interlock at the least pitch may meet again farther apart.
      if (this.firstFree(filled) === filled) return filled > least * 1.001 ? [least, filled] : [least];
    }
    return [least];
  }

  private bestShift(cell: readonly Lying[], pitch: number, samples: number, refined: number): Lattice | undefined {
    const meet = refined < REFINED ? ROUGH_THAT_MEET : ROWS_THAT_MEET;
    const height = heightOf(cell);
    let [from, to] = [0, pitch];
    let best: Lattice | undefined;
    for (let round = 0; round < refined; round++) {
      for (let i = 0; i <= samples; i++) {
        if (this.over()) return best;
        const shift = from + ((to - from) * i) / samples;
        const rise = this.riseOf(cell, pitch, shift, meet);
        const length = height + Math.max(0, this.copies / this.countInRow(cell, pitch, shift) - 1) * rise;
        if (!best || length < best.length) best = { cell, pitch, shift, rise, length };
      }
      const half = (to - from) / samples;
      const at = best?.shift ?? 0;
      [from, to] = [at - half, at + half];
    }
    return best;
  }

  /** Shapes that lie in a row, on average of some rows. */
  private countInRow(cell: readonly Lying[], pitch: number, shift: number): number {
    let count = 0;
    for (let n = 0; n < ROWS_COUNTED; n++) {
      for (const { orientation, x } of cell) {
        const from = (((x + n * shift) % pitch) + pitch) % pitch;
        const room = this.width - orientation.width - from;
        if (room >= -1e-9) count += Math.floor(room / pitch + 1e-9) + 1;
      }
    }
    return count / ROWS_COUNTED;
  }

  /** The least pitch at which no two cells of a row meet; what it blocked stays, for `firstFree` to judge larger ones. */
  private leastPitch(cell: readonly Lying[], rough: boolean): number {
    this.clear();
    const pairs = cell.flatMap((a) =>
      cell.map((b) => ({ fit: this.book.noFit(a.orientation, b.orientation), dx: b.x - a.x, dy: b.y - a.y })),
    );
    const reach = Math.max(...pairs.map(({ fit, dx }) => fit.maxX - dx));
    let least = 1e-3;
    let blocked = 0;
    for (let meet = rough ? ROUGH_THAT_MEET : CELLS_THAT_MEET; blocked < meet;) {
      for (const { fit, dx, dy } of pairs) {
        for (let m = blocked + 1; m <= meet; m++) this.block(fit, dy, dx, 'across', m);
      }
      blocked = meet;
      least = this.firstFree(least);
      // Narrow shapes in teeth: cells farther apart than the nearest few may reach each other, too.
      if (!rough) meet = Math.max(meet, Math.ceil(reach / least));
    }
    return least;
  }

  private riseOf(cell: readonly Lying[], pitch: number, shift: number, meet: number): number {
    this.clear();
    for (const a of cell) {
      for (const b of cell) {
        const fit = this.book.noFit(a.orientation, b.orientation);
        for (let m = 1; m <= meet; m++) {
          const dx = b.x - a.x + m * shift;
          const first = Math.ceil((fit.minX - dx) / pitch);
          for (let k = first; dx + k * pitch < fit.maxX; k++) {
            this.block(fit, dx + k * pitch, b.y - a.y, 'along', m);
          }
        }
      }
    }
    return this.firstFree((heightOf(cell) + this.book.clearance) * LEAST_RISE);
  }

  private clear(): void {
    this.lo.length = 0;
    this.hi.length = 0;
  }

  /** Adds what is blocked along one axis, the other one held at `at`: of `base` + `times` · v. */
  private block(
    { sides, starts, boxes }: NoFit,
    at: number,
    base: number,
    axis: 'across' | 'along',
    times: number,
  ): void {
    const across = axis === 'across';
    for (let r = 0, b = 0; b < boxes.length; r++, b += 4) {
      const [least, most] = across ? [b + 2, b + 3] : [b, b + 1];
      if (at <= float64At(boxes, least) + TOUCH || at >= float64At(boxes, most) - TOUCH) continue;
      let low = -Infinity;
      let high = Infinity;
      for (let i = int32At(starts, r), end = int32At(starts, r + 1); i < end; i += SIDE) {
        const free = float64At(sides, across ? i : i + 1);
        const held = float64At(sides, across ? i + 1 : i);
        if (Math.abs(free) < 1e-12) continue;
        const v = (float64At(sides, i + 2) - held * at) / free;
        if (free > 0) high = Math.min(high, v);
        else low = Math.max(low, v);
      }
      if (high <= low) continue;
      this.lo.push((low - base) / times);
      this.hi.push((high - base) / times);
    }
  }

  private firstFree(from: number): number {
    const { lo, hi } = this;
    let v = from;
    for (let moved = true; moved;) {
      moved = false;
      for (let i = 0; i < lo.length; i++) {
        if (v > itemAt(lo, i) + TOUCH && v < itemAt(hi, i) - TOUCH) {
          v = itemAt(hi, i);
          moved = true;
        }
      }
    }
    return v;
  }
}

/**
 * The rows of a lattice on media of this width, in order, each as the shapes that lie within it; begun so far to the left
 * as gives most shapes a row. It never ends where a row holds a shape.
 */
export function* latticeRows({ cell, pitch, shift, rise }: Lattice, width: number): Generator<Lying[]> {
  const low = Math.min(...cell.map(({ y }) => y));
  const row = (n: number, phase: number): Lying[] => {
    const offset = phase + n * shift;
    const spots = cell.flatMap(({ orientation, x, y }) => {
      const first = Math.ceil((-x - offset - 1e-9) / pitch);
      const count = Math.floor((width - orientation.width - x - offset + 1e-9) / pitch) - first + 1;
      return Array.from({ length: Math.max(0, count) }, (_, k) => ({
        orientation,
        x: Math.max(0, x + offset + (first + k) * pitch),
        y: y - low + n * rise,
      }));
    });
    return spots.sort((a, b) => a.y - b.y || a.x - b.x);
  };
  let best = { phase: 0, count: -1 };
  for (let i = 0; i < PHASES; i++) {
    const phase = (pitch * i) / PHASES;
    const count = Array.from({ length: ROWS_COUNTED }, (_, n) => row(n, phase).length).reduce((sum, n) => sum + n, 0);
    if (count > best.count) best = { phase, count };
  }
  if (best.count <= 0) return;
  for (let n = 0; ; n++) yield row(n, best.phase);
}

const PHASES = 24;
const ROWS_COUNTED = 8;
