import { itemAt } from '../../elementAt.ts';
export interface Gap {
  /** First and last segment. */
  readonly from: number;
  readonly to: number;
  readonly base: number;
  readonly width: number;
  readonly wallL: number;
  readonly wallR: number;
}

/** The upper edge of a packing from wall to wall: `xs` has one more entry than `ys`. Grid units. */
export class RowSkyline {
  readonly xs: number[];
  readonly ys: number[] = [0];

  constructor(readonly width: number) {
    this.xs = [0, width];
  }

  /**
   * Lays a row into a gap, each piece on the highest of what is under it.
   * @param row sides of the pieces from left to right
   * @param fromLeft at which wall the row begins; what it is short of lies at the other
   * @returns the corner of each piece nearest the origin
   */
  lay(
    row: readonly { readonly w: number; readonly h: number }[],
    gap: Gap,
    fromLeft: boolean,
  ): { readonly x: number; readonly y: number }[] {
    const { xs, ys } = this;
    const total = row.reduce((sum, { w }) => sum + w, 0);
    const x0 = itemAt(xs, gap.from);
    const x1 = itemAt(xs, gap.to + 1);
    let x = fromLeft ? x0 : x1 - total;
    const newX: number[] = [];
    const newY: number[] = [];
    const add = (start: number, y: number): void => {
      if (newY[newY.length - 1] === y) return;
      newX.push(start);
      newY.push(y);
    };
    this.copy(gap, x0, x, add);
    const corners = row.map(({ w, h }) => {
      const corner = { x, y: this.highest(gap, x, x + w) };
      add(x, corner.y + h);
      x += w;
      return corner;
    });
    this.copy(gap, x, x1, add);
    xs.splice(gap.from, gap.to - gap.from + 1, ...newX);
    ys.splice(gap.from, gap.to - gap.from + 1, ...newY);
    this.join(gap.from + newY.length - 1);
    this.join(gap.from - 1);
    return corners;
  }

  private highest(gap: Gap, from: number, to: number): number {
    let y = 0;
    for (let i = gap.from; i <= gap.to; i++) {
      if (itemAt(this.xs, i) < to && itemAt(this.xs, i + 1) > from && itemAt(this.ys, i) > y) y = itemAt(this.ys, i);
    }
    return y;
  }

  private copy(gap: Gap, from: number, to: number, add: (start: number, y: number) => void): void {
    for (let i = gap.from; i <= gap.to; i++) {
      const start = Math.max(from, itemAt(this.xs, i));
      if (start < Math.min(to, itemAt(this.xs, i + 1))) add(start, itemAt(this.ys, i));
    }
  }

  private join(at: number): void {
    if (at < 0 || at + 1 >= this.ys.length || this.ys[at] !== this.ys[at + 1]) return;
    this.xs.splice(at + 1, 1);
    this.ys.splice(at + 1, 1);
  }

  /** The lowest place and what lies level with it, as far as the tolerance reaches. */
  lowestGap(tolerance: number): Gap {
    const { xs, ys } = this;
    let at = 0;
    for (let i = 1; i < ys.length; i++) if (itemAt(ys, i) < itemAt(ys, at)) at = i;
    const most = itemAt(ys, at) + tolerance;
    let from = at;
    let to = at;
    while (from > 0 && itemAt(ys, from - 1) <= most) from -= 1;
    while (to + 1 < ys.length && itemAt(ys, to + 1) <= most) to += 1;
    let base = itemAt(ys, at);
    for (let i = from; i <= to; i++) if (itemAt(ys, i) > base) base = itemAt(ys, i);
    return {
      from,
      to,
      base,
      width: itemAt(xs, to + 1) - itemAt(xs, from),
      wallL: from > 0 ? itemAt(ys, from - 1) : Infinity,
      wallR: to + 1 < ys.length ? itemAt(ys, to + 1) : Infinity,
    };
  }

  /** Gives a gap up to its lower wall. */
  raise({ from, to, wallL, wallR }: Gap): void {
    const y = Math.min(wallL, wallR);
    this.xs.splice(from + 1, to - from);
    this.ys.splice(from, to - from + 1, y);
    this.join(from);
    this.join(from - 1);
  }
}
