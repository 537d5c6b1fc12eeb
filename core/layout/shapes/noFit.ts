import { float64At, int32At, itemAt } from '../../elementAt.ts';
import { type Outline, boundsOf, movedOutline, turnedOutline } from '../../geometry/polygon.ts';
import { type Convex, aroundCircle, convexParts, minkowski, mirroredInOrigin } from './convex.ts';

/** An outline at one angle, its bounds beginning at 0, 0. */
export interface Orientation {
  /** Numbers the outline at this angle: two orientations with one key block each other alike. */
  readonly key: number;
  readonly angleDeg: number;
  readonly width: number;
  readonly height: number;
  /** Convex parts, widened by the clearance; of what lies. Points x, y, x, y … from the lowest on. */
  readonly lying: readonly Float64Array[];
  /** Convex parts mirrored in the origin; of what comes. */
  readonly coming: readonly Float64Array[];
  /** From the corner of the turned outline's bounds to where the outline's own 0, 0 lies. */
  readonly originX: number;
  readonly originY: number;
}

/** Numbers of each side of a region: normal x, y (of length one, outwards), distance, and the point where it begins. */
export const SIDE = 5;

/**
 * Where a orientation may not lie beside another: convex regions of its corner, relative to the other's. Inside is where
 * nx·x + ny·y < d for all sides of a region.
 */
export interface NoFit {
  readonly minX: number;
  readonly maxX: number;
  readonly minY: number;
  readonly maxY: number;
  /** Of each region: least and largest x, least and largest y. */
  readonly boxes: Float64Array;
  readonly sides: Float64Array;
  /** Where the sides of each region begin, and one more. */
  readonly starts: Int32Array;
}

/** The orientations of a nest, and where each may not lie beside another; each pair is worked out once. */
export class ShapeBook {
  /** By the key of what lies, then of what comes. */
  private readonly known: (NoFit | undefined)[][] = [];
  private readonly circle: Convex | undefined;
  private orientations = 0;
  private scratch: Float64Array = new Float64Array(SIDE * 4096);

  /** @param clearance kept between outlines (mm) */
  constructor(readonly clearance: number) {
    this.circle = clearance > 0 ? aroundCircle(clearance) : undefined;
  }

  orientationOf(outline: Outline, angleDeg: number): Orientation {
    const turned = turnedOutline(outline, angleDeg);
    const { minX, minY, maxX, maxY } = boundsOf(turned);
    const parts = convexParts(movedOutline(turned, -minX, -minY));
    const { circle } = this;
    return {
      key: this.orientations++,
      angleDeg,
      width: maxX - minX,
      height: maxY - minY,
      lying: parts.map((part) => flat(circle ? minkowski(part, circle) : part)),
      coming: parts.map((part) => flat(mirroredInOrigin(part))),
      originX: -minX,
      originY: -minY,
    };
  }

  noFit(lying: Orientation, coming: Orientation): NoFit {
    const row = (this.known[lying.key] ??= []);
    return (row[coming.key] ??= this.make(lying, coming));
  }

  private make(lying: Orientation, coming: Orientation): NoFit {
    const count = lying.lying.length * coming.coming.length;
    const boxes = new Float64Array(count * 4);
    const starts = new Int32Array(count + 1);
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    let region = 0;
    let n = 0;
    for (const a of lying.lying) {
      for (const b of coming.coming) {
        const from = n;
        if (from + (a.length + b.length) * SIDE > this.scratch.length) this.scratch = doubled(this.scratch);
        n = addSides(a, b, this.scratch, from);
        let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
        for (let i = from; i < n; i += SIDE) {
          const x = float64At(this.scratch, i + 3);
          const y = float64At(this.scratch, i + 4);
          if (x < x0) x0 = x;
          if (x > x1) x1 = x;
          if (y < y0) y0 = y;
          if (y > y1) y1 = y;
        }
        boxes.set([x0, x1, y0, y1], region * 4);
        [minX, minY, maxX, maxY] = [Math.min(minX, x0), Math.min(minY, y0), Math.max(maxX, x1), Math.max(maxY, y1)];
        starts[++region] = n;
      }
    }
    return { minX, maxX, minY, maxY, boxes, sides: this.scratch.slice(0, n), starts };
  }
}

/** Points from the lowest on, of lowest ones the leftmost. */
function flat(points: Convex): Float64Array {
  let at = 0;
  points.forEach((point, i) => {
    const low = itemAt(points, at);
    if (point.y < low.y || (point.y === low.y && point.x < low.x)) at = i;
  });
  const out = new Float64Array(points.length * 2);
  for (let i = 0; i < points.length; i++) {
    const point = itemAt(points, (at + i) % points.length);
    out[i * 2] = point.x;
    out[i * 2 + 1] = point.y;
  }
  return out;
}

/** The sides of the sum of two convex polygons; @returns where the next ones go */
function addSides(a: Float64Array, b: Float64Array, out: Float64Array, from: number): number {
  const [na, nb] = [a.length, b.length];
  let [i, j, n] = [0, 0, from];
  while (i < na || j < nb) {
    const [ia, jb] = [i % na, j % nb];
    const [in_, jn] = [(i + 2) % na, (j + 2) % nb];
    const [ax, ay] = [float64At(a, in_) - float64At(a, ia), float64At(a, in_ + 1) - float64At(a, ia + 1)];
    const [bx, by] = [float64At(b, jn) - float64At(b, jb), float64At(b, jn + 1) - float64At(b, jb + 1)];
    const turn = ax * by - ay * bx;
    const takeA = i < na && (j >= nb || turn >= 0);
    const takeB = j < nb && (i >= na || turn <= 0);
    const ex = (takeA ? ax : 0) + (takeB ? bx : 0);
    const ey = (takeA ? ay : 0) + (takeB ? by : 0);
    const [x, y] = [float64At(a, ia) + float64At(b, jb), float64At(a, ia + 1) + float64At(b, jb + 1)];
    const long = Math.sqrt(ex * ex + ey * ey);
    if (long > 1e-12) {
      const nx = ey / long;
      const ny = -ex / long;
      out[n] = nx;
      out[n + 1] = ny;
      out[n + 2] = nx * x + ny * y;
      out[n + 3] = x;
      out[n + 4] = y;
      n += SIDE;
    }
    if (takeA) i += 2;
    if (takeB) j += 2;
  }
  return n;
}

function doubled(old: Float64Array): Float64Array {
  const next = new Float64Array(old.length * 2);
  next.set(old);
  return next;
}

/** How deep a place lies within what is blocked: the least way out of the region in which that is most (mm); 0 outside. */
export function depthAt(fit: NoFit, x: number, y: number): number {
  if (x <= fit.minX || x >= fit.maxX || y <= fit.minY || y >= fit.maxY) return 0;
  const { boxes, sides, starts } = fit;
  let deepest = 0;
  for (let r = 0, b = 0; b < boxes.length; r++, b += 4) {
    // No place in a region is deeper than its way to the sides of its bounds.
    if (x - float64At(boxes, b) <= deepest || float64At(boxes, b + 1) - x <= deepest) continue;
    if (y - float64At(boxes, b + 2) <= deepest || float64At(boxes, b + 3) - y <= deepest) continue;
    let least = Infinity;
    for (let i = int32At(starts, r), end = int32At(starts, r + 1); i < end; i += SIDE) {
      const inside = float64At(sides, i + 2) - float64At(sides, i) * x - float64At(sides, i + 1) * y;
      if (inside < least) {
        least = inside;
        if (least <= deepest) break;
      }
    }
    if (least > deepest) deepest = least;
  }
  return deepest;
}
