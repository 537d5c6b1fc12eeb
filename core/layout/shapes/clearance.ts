import { Clipper, FillRule } from 'clipper2-ts';
import { type Outline, type PointMm, areaMm2, boundsOf, distanceToSegment } from '../../geometry/polygon.ts';

/** Closeness that is forgiven (mm): outlines are turned by cosines and lie on a grid. */
const FORGIVEN_MM = 0.02;

/**
 * True when two outlines overlap, or come closer than the gap anywhere (mm).
 * Where they only touch, the area that they share decides: rounding makes edges that meet cross.
 */
export function outlinesCloser(a: Outline, b: Outline, gapMm: number): boolean {
  const wanted = gapMm - FORGIVEN_MM;
  const near = wanted > 0 && edgesWithin(a, b, wanted);
  return near || shareArea(a, b);
}

function shareArea(a: Outline, b: Outline): boolean {
  if (!boxesMeet(boundsOf(a), boundsOf(b), 0)) return false;
  const shared = Clipper.intersectD([[...a]], [[...b]], FillRule.NonZero, 4);
  const area = shared.reduce((sum, ring) => sum + areaMm2(ring), 0);
  return area > FORGIVEN_MM * Math.min(perimeter(a), perimeter(b)) * 0.25;
}

function perimeter(points: Outline): number {
  return points.reduce((sum, p, i) => sum + distance(p, points[(i + 1) % points.length] ?? p), 0);
}

function distance(a: PointMm, b: PointMm): number {
  return Math.hypot(a.x - b.x, a.y - b.y);
}

interface Box {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
}

function boxesMeet(a: Box, b: Box, within: number): boolean {
  return a.minX - within < b.maxX && b.minX - within < a.maxX && a.minY - within < b.maxY && b.minY - within < a.maxY;
}

interface Edge extends Box {
  readonly p: PointMm;
  readonly q: PointMm;
}

/** The edges of an outline that come near a box. */
function edgesNear(points: Outline, box: Box, within: number): Edge[] {
  return points.flatMap((p, i) => {
    const q = points[(i + 1) % points.length] ?? p;
    const edge = { p, q, ...boundsOf([p, q]) };
    return boxesMeet(edge, box, within) ? [edge] : [];
  });
}

/** Whether two outlines come closer than that anywhere along their edges; only edges near the other one are compared. */
function edgesWithin(a: Outline, b: Outline, within: number): boolean {
  const ofA = edgesNear(a, boundsOf(b), within);
  const ofB = edgesNear(b, boundsOf(a), within);
  return ofA.some((one) =>
    ofB.some(
      (other) =>
        boxesMeet(one, other, within) &&
        (distanceToSegment(one.p, other.p, other.q) < within ||
          distanceToSegment(one.q, other.p, other.q) < within ||
          distanceToSegment(other.p, one.p, one.q) < within ||
          distanceToSegment(other.q, one.p, one.q) < within),
    ),
  );
}
