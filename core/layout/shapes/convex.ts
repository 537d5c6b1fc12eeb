import earcut from 'earcut';
import { type Outline, type PointMm, twiceArea } from '../../geometry/polygon.ts';

/** Convex, its points turning from x to y, none of them on a straight line between its neighbours. */
export type Convex = readonly PointMm[];

const FLAT = 1e-9;

function cross(a: PointMm, b: PointMm, c: PointMm): number {
  return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
}

/** Cuts an outline into convex parts: triangles, then joined over common edges as long as they stay convex. */
export function convexParts(outline: Outline): Convex[] {
  const points = twiceArea(outline) < 0 ? [...outline].reverse() : [...outline];
  const flat = points.flatMap(({ x, y }) => [x, y]);
  const corners = earcut(flat);
  let parts: number[][] = [];
  for (let i = 0; i < corners.length; i += 3) {
    const triangle = [corners[i] ?? 0, corners[i + 1] ?? 0, corners[i + 2] ?? 0];
    const [a, b, c] = triangle.map((k) => points[k]) as [PointMm, PointMm, PointMm];
    const turn = cross(a, b, c);
    if (Math.abs(turn) > FLAT) parts.push(turn > 0 ? triangle : triangle.reverse());
  }
  for (let joined = true; joined;) {
    joined = false;
    for (let i = 0; i < parts.length && !joined; i++) {
      for (let j = i + 1; j < parts.length && !joined; j++) {
        const one = join(parts[i] ?? [], parts[j] ?? [], points);
        if (!one) continue;
        parts = parts.filter((_, k) => k !== i && k !== j);
        parts.push(one);
        joined = true;
      }
    }
  }
  return parts.map((part) => tidy(part.flatMap((k) => points[k] ?? [])));
}

/** Two convex parts over a common edge as one, if that is convex. */
function join(a: readonly number[], b: readonly number[], points: Outline): number[] | undefined {
  for (let i = 0; i < a.length; i++) {
    const [from, to] = [a[i], a[(i + 1) % a.length]];
    const k = b.findIndex((at, n) => at === to && b[(n + 1) % b.length] === from);
    if (k < 0) continue;
    const rest = Array.from({ length: b.length - 2 }, (_, n) => b[(k + 2 + n) % b.length] ?? 0);
    const one = [...a.slice(0, i + 1), ...rest, ...a.slice(i + 1)];
    return isConvex(one.flatMap((at) => points[at] ?? [])) ? one : undefined;
  }
  return undefined;
}

function isConvex(points: Outline): boolean {
  return points.every((b, i) => {
    const a = points[(i + points.length - 1) % points.length] ?? b;
    const c = points[(i + 1) % points.length] ?? b;
    return cross(a, b, c) >= -FLAT;
  });
}

function tidy(points: Outline): Convex {
  return points.filter((b, i) => {
    const a = points[(i + points.length - 1) % points.length] ?? b;
    const c = points[(i + 1) % points.length] ?? b;
    return cross(a, b, c) > FLAT;
  });
}

/** All sums of a point of one and a point of the other: convex, too. */
export function minkowski(a: Convex, b: Convex): Convex {
  const [p, q] = [fromLowest(a), fromLowest(b)];
  const sum: PointMm[] = [];
  let [i, j] = [0, 0];
  while (i < p.length || j < q.length) {
    const [pi, qj] = [p[i % p.length], q[j % q.length]];
    const [pn, qn] = [p[(i + 1) % p.length], q[(j + 1) % q.length]];
    if (!pi || !qj || !pn || !qn) break;
    sum.push({ x: pi.x + qj.x, y: pi.y + qj.y });
    const turn = (pn.x - pi.x) * (qn.y - qj.y) - (pn.y - pi.y) * (qn.x - qj.x);
    const [endP, endQ] = [i >= p.length, j >= q.length];
    if (!endP && (endQ || turn >= 0)) i += 1;
    if (!endQ && (endP || turn <= 0)) j += 1;
  }
  return tidy(sum);
}

function fromLowest(points: Convex): Convex {
  let at = 0;
  points.forEach((point, i) => {
    const low = points[at];
    if (low && (point.y < low.y || (point.y === low.y && point.x < low.x))) at = i;
  });
  return [...points.slice(at), ...points.slice(0, at)];
}

/** The polygon seen from the other side of the origin: what a Minkowski sum takes to become a no-fit polygon. */
export function mirroredInOrigin(points: Convex): Convex {
  return points.map(({ x, y }) => ({ x: -x, y: -y }));
}

/** A polygon around a circle: keeps at least the radius everywhere, at most 2 % more. */
export function aroundCircle(radius: number): Convex {
  const n = 16;
  const r = radius / Math.cos(Math.PI / n);
  return Array.from({ length: n }, (_, i) => {
    const angle = ((2 * i + 1) * Math.PI) / n;
    return { x: r * Math.cos(angle), y: r * Math.sin(angle) };
  });
}
