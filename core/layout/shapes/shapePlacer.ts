import { float64At, int32At, itemAt } from '../../elementAt.ts';
import { type NoFit, SIDE, type ShapeBook, type Orientation } from './noFit.ts';

export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** A shape at its place. */
export interface Lying extends Spot {
  readonly orientation: Orientation;
}

/** What blocks the piece that is being placed, from one piece that lies. */
interface Block {
  readonly x: number;
  readonly y: number;
  readonly fit: NoFit;
}

/** Touching is allowed: a place is blocked only this far inside (mm). */
const TOUCH = 1e-6;
/** Columns in which a place is looked for at first, and how many of them are looked at closely. */
const COLUMNS = 160;
const CLOSELY = 4;
/** How finely the best place is looked for across the media (mm). */
const FINE = 0.005;

/**
 * Lays outlines one after another, each at the place nearest the leading edge: at a given x the stretches that others block
 * are known exactly, so that the first free y is, too. x is looked for in columns, then at the corners of what blocks near
 * the best of them, then ever more finely.
 */
export class ShapePlacer {
  private readonly lying: Lying[] = [];
  private blocks: Block[] = [];
  private lo: Float64Array = new Float64Array(256);
  private hi: Float64Array = new Float64Array(256);

  constructor(
    private readonly book: ShapeBook,
    private readonly width: number,
  ) {}

  get count(): number {
    return this.lying.length;
  }

  /** Takes away what was laid last, down to `count`. */
  cutBack(count: number): void {
    this.lying.length = count;
  }

  lay(orientation: Orientation, spot: Spot): void {
    this.lying.push({ orientation, ...spot });
  }

  /** Of all these ways to lie, the place that ends nearest the leading edge, before `length`; undefined where there is none. */
  nearest(orientations: readonly Orientation[], length = Infinity): Lying | undefined {
    let best: Lying | undefined;
    let end = length + 1e-9;
    for (const orientation of orientations) {
      if (orientation.height > end) continue;
      const spot = this.lowest(orientation, end - orientation.height);
      if (!spot || (best && spot.y + orientation.height >= end)) continue;
      best = { orientation, ...spot };
      end = spot.y + orientation.height;
    }
    return best;
  }

  /** The free place with the least y, no lower than `most`; undefined where there is none. */
  lowest(orientation: Orientation, most: number): Spot | undefined {
    const room = this.width - orientation.width;
    if (room < -1e-6) return undefined;
    this.blocks = this.lying.map(({ orientation: other, x, y }) => ({
      x,
      y,
      fit: this.book.noFit(other, orientation),
    }));
    const step = Math.max(room / COLUMNS, 1e-3);
    const near: Spot[] = [];
    for (let i = 0; i <= COLUMNS; i++) {
      const x = Math.min(room, i * step);
      const limit = near.length < CLOSELY ? most : Math.min(most, itemAt(near, near.length - 1).y);
      const y = this.firstFree(x, limit);
      if (y <= limit) keepNearest(near, { x, y });
      if (room <= 0) break;
    }
    let best: Spot | undefined;
    for (const spot of near) {
      const found = this.closely(spot, room, step);
      if (!best || found.y < best.y - 1e-9 || (found.y < best.y + 1e-9 && found.x < best.x)) best = found;
    }
    return best;
  }

  private closely(start: Spot, room: number, step: number): Spot {
    let best = start;
    const tryAt = (x: number): boolean => {
      if (x < 0 || x > room) return false;
      const y = this.firstFree(x, best.y);
      if (y >= best.y - 1e-9) return false;
      best = { x, y };
      return true;
    };
    for (const x of this.cornersNear(start, step)) tryAt(x);
    for (let d = step / 2; d > FINE; d /= 2) {
      // A slope that hardly falls would be followed in ever so many steps.
      for (let k = 0; k < 6 && (tryAt(best.x - d) || tryAt(best.x + d)); k++);
    }
    return best;
  }

  /** Where corners of what blocks lie near a place: pieces fit together there. */
  private cornersNear({ x, y }: Spot, step: number): number[] {
    const found = new Set<number>();
    for (const { x: bx, y: by, fit } of this.blocks) {
      if (x + step < bx + fit.minX || x - step > bx + fit.maxX || y < by + fit.minY) continue;
      const { sides } = fit;
      for (let i = 0; i < sides.length; i += SIDE) {
        const at = bx + float64At(sides, i + 3);
        if (Math.abs(at - x) <= step && Math.abs(by + float64At(sides, i + 4) - y) < step * 8) found.add(at);
      }
    }
    return [...found];
  }

  /** The least y ≥ 0 that nothing blocks at x; Infinity where it is more than `most`. */
  private firstFree(x: number, most: number): number {
    let n = 0;
    for (const { x: bx, y: by, fit } of this.blocks) {
      const dx = x - bx;
      if (dx <= fit.minX + TOUCH || dx >= fit.maxX - TOUCH || by + fit.maxY <= TOUCH) continue;
      n = this.cut(fit, dx, by, n);
    }
    const { lo, hi } = this;
    let y = 0;
    for (let moved = true; moved;) {
      moved = false;
      for (let i = 0; i < n; i++) {
        if (y > float64At(lo, i) + TOUCH && y < float64At(hi, i) - TOUCH) {
          y = float64At(hi, i);
          if (y > most) return Infinity;
          moved = true;
        }
      }
    }
    return y;
  }

  /** Adds the stretches that one piece blocks at dx from its corner; @returns how many there are now */
  private cut({ boxes, sides, starts }: NoFit, dx: number, by: number, count: number): number {
    let n = count;
    for (let r = 0, b = 0; b < boxes.length; r++, b += 4) {
      if (
        dx <= float64At(boxes, b) + TOUCH ||
        dx >= float64At(boxes, b + 1) - TOUCH ||
        by + float64At(boxes, b + 3) <= TOUCH
      )
        continue;
      let low = -Infinity;
      let high = Infinity;
      for (let i = int32At(starts, r), end = int32At(starts, r + 1); i < end; i += SIDE) {
        const ny = float64At(sides, i + 1);
        if (ny > -1e-12 && ny < 1e-12) continue;
        const y = (float64At(sides, i + 2) - float64At(sides, i) * dx) / ny;
        if (ny > 0) {
          if (y < high) high = y;
        } else if (y > low) low = y;
      }
      if (by + high <= TOUCH) continue;
      if (n === this.lo.length) {
        this.lo = grown(this.lo);
        this.hi = grown(this.hi);
      }
      // The media begins at 0: what reaches below it blocks 0 itself.
      this.lo[n] = by + low < TOUCH ? -1 : by + low;
      this.hi[n] = by + high;
      n += 1;
    }
    return n;
  }
}

function keepNearest(near: Spot[], spot: Spot): void {
  let at = near.length;
  while (at > 0 && itemAt(near, at - 1).y > spot.y) at -= 1;
  near.splice(at, 0, spot);
  if (near.length > CLOSELY) near.pop();
}

function grown(old: Float64Array): Float64Array {
  const next = new Float64Array(old.length * 2);
  next.set(old);
  return next;
}
