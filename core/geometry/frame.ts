/**
 * The frame of a run, seen from the printed side (mm):
 *
 *      left edge          right edge
 *   (0,0) ●──────────────► x   leading edge (comes out of the printer first)
 *         │  ┌─────┐
 *         │  │ w×h │           a piece at (x, y) is named by its corner nearest the origin
 *         │  └─────┘
 *         ▼ y   along the feed, away from the leading edge
 *
 * Angles counter-clockwise. x is measured from the left edge of the usable width.
 */
export interface RectMm {
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

/**
 * True when two rectangles come closer than the gap in both directions.
 * @param toleranceMm how much closeness is forgiven (floating point)
 */
export function closerThan(a: RectMm, b: RectMm, gapXMm: number, gapYMm: number, toleranceMm = 1e-3): boolean {
  return (
    a.xMm + a.widthMm + gapXMm > b.xMm + toleranceMm &&
    b.xMm + b.widthMm + gapXMm > a.xMm + toleranceMm &&
    a.yMm + a.heightMm + gapYMm > b.yMm + toleranceMm &&
    b.yMm + b.heightMm + gapYMm > a.yMm + toleranceMm
  );
}
