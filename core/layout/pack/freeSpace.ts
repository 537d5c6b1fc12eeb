/** A rectangle in grid units: from the left end of the usable width, and from where pieces may begin. */
export interface GridRect {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

/**
 * All largest free rectangles of a strip, while rectangles are laid on it. Each piece is said with its gap
 * to the right and behind, so that what is free is free for a piece with its gap.
 */
export class FreeSpace {
  private free: readonly GridRect[];

  /** @param free what is free at first: an endless strip, or a rectangle for each sheet */
  constructor(free: readonly GridRect[]) {
    this.free = free;
  }

  copy(): FreeSpace {
    return new FreeSpace(this.free);
  }

  /** The place nearest the leading edge, then nearest the left, for a rectangle of this size. */
  lowest(w: number, h: number): { readonly x: number; readonly y: number } | undefined {
    let best: GridRect | undefined;
    for (const space of this.free) {
      if (space.w < w || space.h < h) continue;
      if (!best || space.y < best.y || (space.y === best.y && space.x < best.x)) best = space;
    }
    return best && { x: best.x, y: best.y };
  }

  /**
   * The place nearest the leading edge with its left side at `x`, no nearer than `least` to where its sheet begins; sheets
   * begin every so far, a roll once.
   */
  lowestAt(x: number, w: number, h: number, least: number, every: number): number | undefined {
    let best: number | undefined;
    for (const space of this.free) {
      if (space.x > x || space.x + space.w < x + w) continue;
      const begins = every === Infinity ? 0 : Math.floor(space.y / every) * every;
      const y = Math.max(space.y, begins + least);
      if (y + h <= space.y + space.h && (best === undefined || y < best)) best = y;
    }
    return best;
  }

  /** Takes a rectangle out of what is free; it may lie over what is taken already. */
  take(rect: GridRect): void {
    const kept: GridRect[] = [];
    const cut: GridRect[] = [];
    for (const space of this.free) {
      if (meets(space, rect)) cut.push(...around(space, rect));
      else kept.push(space);
    }
    // Only what was cut now can lie within another.
    const fresh = cut.filter((one, i) => !cut.some((other, k) => within(one, other) && (k < i || !within(other, one))));
    this.free = [...kept, ...fresh.filter((one) => !kept.some((other) => within(one, other)))];
  }
}

function meets(a: GridRect, b: GridRect): boolean {
  return a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;
}

function within(inner: GridRect, outer: GridRect): boolean {
  return (
    inner.x >= outer.x &&
    inner.y >= outer.y &&
    inner.x + inner.w <= outer.x + outer.w &&
    inner.y + inner.h <= outer.y + outer.h
  );
}

/** What is left of a space beside a rectangle: up to four rectangles, as large as they can be. */
function around(space: GridRect, rect: GridRect): GridRect[] {
  const { x, y, w, h } = space;
  const parts: GridRect[] = [];
  if (rect.x > x) parts.push({ x, y, w: rect.x - x, h });
  if (rect.x + rect.w < x + w) parts.push({ x: rect.x + rect.w, y, w: x + w - rect.x - rect.w, h });
  if (rect.y > y) parts.push({ x, y, w, h: rect.y - y });
  if (rect.y + rect.h < y + h) parts.push({ x, y: rect.y + rect.h, w, h: y + h - rect.y - rect.h });
  return parts;
}
