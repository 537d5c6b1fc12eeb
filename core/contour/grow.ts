import { Clipper, EndType, FillRule, JoinType, type PathD } from 'clipper2-ts';
import { type Outline, type PointMm, twiceArea } from '../geometry/polygon.ts';

/** Digits behind the point that the clipper counts with (mm), and how far an arc may be off its chords. */
const DIGITS = 4;
const ARC_MM = 0.01;

function paths(rings: readonly Outline[]): PathD[] {
  return rings.map((ring) => ring.map(({ x, y }) => ({ x, y })));
}

/**
 * The area that rings enclose (a ring within a ring is a hole), grown on all sides; corners become round.
 * @param mm below zero: shrunk, which may leave nothing
 * @returns outer rings and holes; rings that come to touch are one
 */
export function grownRings(rings: readonly Outline[], mm: number): Outline[] {
  const area = Clipper.unionD(paths(rings), [], FillRule.EvenOdd, DIGITS);
  if (mm === 0) return area;
  return Clipper.inflatePathsD(area, mm, JoinType.Round, EndType.Polygon, 2, DIGITS, ARC_MM);
}

/** One outline around all rings: the outer ring where there is one, else the convex hull of all. */
export function oneOutline(rings: readonly Outline[]): Outline {
  const solid = Clipper.unionD(paths(rings), [], FillRule.NonZero, DIGITS);
  const outer = solid.filter((ring) => twiceArea(ring) > 0);
  const [only] = outer;
  return outer.length === 1 && only ? only : convexHull(outer.flat());
}

/** Monotone chain; points turn from x to y. */
export function convexHull(points: readonly PointMm[]): Outline {
  const sorted = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  const half = (from: readonly PointMm[]): PointMm[] => {
    const chain: PointMm[] = [];
    for (const p of from) {
      for (;;) {
        const [a, b] = chain.slice(-2);
        if (!a || !b || (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}
