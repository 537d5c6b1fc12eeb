import { cosSin } from './turn.ts';

export interface PointMm {
  readonly x: number;
  readonly y: number;
}

/** A closed outline without its first point again at the end, in either direction; it doesn't cross itself. */
export type Outline = readonly PointMm[];

export interface Bounds {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
}

/** The smallest upright rectangle around an outline (mm). */
export function boundsOf(points: Outline): Bounds {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    minX = Math.min(minX, x);
    minY = Math.min(minY, y);
    maxX = Math.max(maxX, x);
    maxY = Math.max(maxY, y);
  }
  return { minX, minY, maxX, maxY };
}

/** Twice the signed area: above zero where the points turn from x to y. */
export function twiceArea(points: Outline): number {
  let sum = 0;
  let before = points[points.length - 1];
  for (const point of points) {
    if (before) sum += before.x * point.y - point.x * before.y;
    before = point;
  }
  return sum;
}

/** Area of an outline without holes, whichever way round it runs (shoelace formula). */
export function areaMm2(points: Outline): number {
  return Math.abs(twiceArea(points)) / 2;
}

/** Turned counter-clockwise as it is seen, about 0, 0; y points down, away from the leading edge. */
export function turnedOutline(points: Outline, angleDeg: number): Outline {
  const [c, s] = cosSin(angleDeg);
  return points.map(({ x, y }) => ({ x: x * c + y * s, y: y * c - x * s }));
}

/** The same outline elsewhere (mm). */
export function movedOutline(points: Outline, dx: number, dy: number): Outline {
  return points.map(({ x, y }) => ({ x: x + dx, y: y + dy }));
}

/**
 * Fewer points, none of the old outline farther than `withinMm` from the new one (Douglas–Peucker on the closed outline, cut
 * at its two points that are farthest apart from the first).
 */
export function simplified(points: Outline, withinMm: number): Outline {
  const first = points[0];
  if (!first || points.length < 4) return points;
  let far = 0;
  let most = -1;
  points.forEach((point, i) => {
    const d = (point.x - first.x) ** 2 + (point.y - first.y) ** 2;
    if (d > most) [most, far] = [d, i];
  });
  const there = thinned(points.slice(0, far + 1), withinMm);
  const back = thinned([...points.slice(far), first], withinMm);
  return [...there.slice(0, -1), ...back.slice(0, -1)];
}

function thinned(line: Outline, withinMm: number): Outline {
  const [a, b] = [line[0], line[line.length - 1]];
  if (!a || !b || line.length < 3) return line;
  let at = -1;
  let most = withinMm;
  for (let i = 1; i < line.length - 1; i++) {
    const point = line[i];
    const d = point ? distanceToSegment(point, a, b) : 0;
    if (d > most) [most, at] = [d, i];
  }
  if (at < 0) return [a, b];
  return [...thinned(line.slice(0, at + 1), withinMm).slice(0, -1), ...thinned(line.slice(at), withinMm)];
}

/** Shortest distance from a point to a straight line between two points (mm). */
export function distanceToSegment(p: PointMm, a: PointMm, b: PointMm): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const long = dx * dx + dy * dy;
  const t = long === 0 ? 0 : Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / long));
  return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
}
