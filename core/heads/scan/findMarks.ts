import aruco from 'js-aruco2';
import { MARK_DICTIONARY, MARK_MODULES } from '../markBits.ts';
import type { Point } from './homography.ts';
import { type Picture, brightness, smallGrey } from './picture.ts';

/** A corner mark in a picture: its corners clockwise from its own first one, in pixels. */
export interface SeenMark {
  readonly id: number;
  readonly corners: readonly Point[];
}

/** Marks are looked for in so many pixels along the longer side at first. */
const LOOK_PX = 1600;
/** Bits that may be read wrong: marks of the dictionary differ in at least 12. */
const WRONG_BITS = 4;

/**
 * Corner marks in a picture, each of its sides found to a fraction of a pixel.
 * @param pale marks that are lighter than their ground
 * @param factor by which it is made smaller to look for them; left out: until it has 1,600 pixels along its longer side
 */
export function findMarks(picture: Picture, pale: boolean, factor = lookFactor(picture)): SeenMark[] {
  const { width, height, grey } = smallGrey(picture, factor);
  const data = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < grey.length; i += 1) {
    const value = grey[i] ?? 0;
    const shown = pale ? 255 - value : value;
    data.fill(shown, i * 4, i * 4 + 3);
    data[i * 4 + 3] = 255;
  }
  const detector = new aruco.AR.Detector({ dictionaryName: MARK_DICTIONARY, maxHammingDistance: WRONG_BITS + 1 });
  return detector.detect({ width, height, data }).map(({ id, corners }) => ({
    id,
    corners: refined(
      picture,
      corners.map(({ x, y }) => ({ x: (x + 0.5) * factor, y: (y + 0.5) * factor })),
      pale,
    ),
  }));
}

/** By how much a picture is made smaller to look for its marks. */
export function lookFactor({ width, height }: Picture): number {
  return Math.max(1, Math.round(Math.max(width, height) / LOOK_PX));
}

/** Places along a side where its edge is looked for. */
const PLACES = 9;

/** Corners where the sides of a mark, each fitted through several places of its edge, cross. */
function refined(picture: Picture, corners: readonly Point[], pale: boolean): Point[] {
  const sides = corners.map((from, i) => sideLine(picture, from, corners[(i + 1) % 4] ?? from, pale));
  return corners.map((corner, i) => {
    const before = sides[(i + 3) % 4];
    const after = sides[i];
    const crossing = before && after && crossingOf(before, after);
    // A side that leads far away was no edge.
    return crossing && Math.hypot(crossing.x - corner.x, crossing.y - corner.y) < 0.12 * sideOf(corners)
      ? crossing
      : corner;
  });
}

function sideOf(corners: readonly Point[]): number {
  const [a, b] = corners;
  return a && b ? Math.hypot(b.x - a.x, b.y - a.y) : 0;
}

/** A straight line: the points at which nx · x + ny · y = at. */
interface Line {
  readonly nx: number;
  readonly ny: number;
  readonly at: number;
}

function sideLine({ width, height, grey }: Picture, from: Point, to: Point, pale: boolean): Line | undefined {
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  if (length < MARK_MODULES) return undefined;
  const ux = (to.x - from.x) / length;
  const uy = (to.y - from.y) / length;
  // Outwards, where corners go clockwise in a picture whose y grows downwards.
  const nx = uy;
  const ny = -ux;
  const reach = (length / MARK_MODULES) * 0.8;
  const step = Math.min(0.5, reach / 6);
  const points: Point[] = [];
  for (let place = 1; place <= PLACES; place += 1) {
    const t = (length * place) / (PLACES + 1);
    const x = from.x + ux * t;
    const y = from.y + uy * t;
    let weight = 0;
    let sum = 0;
    const at = (s: number): number => brightness(grey, width, height, x + nx * s, y + ny * s);
    for (let s = -reach; s < reach; s += step) {
      const rise = (at(s + step) - at(s)) * (pale ? -1 : 1);
      if (rise <= 0) continue;
      weight += rise * rise;
      sum += rise * rise * (s + step / 2);
    }
    if (weight > 0) points.push({ x: x + (nx * sum) / weight, y: y + (ny * sum) / weight });
  }
  return points.length < PLACES / 2 ? undefined : fitted(points);
}

/** The line through points that lies nearest to them. */
function fitted(points: readonly Point[]): Line {
  const n = points.length;
  const mx = points.reduce((sum, { x }) => sum + x, 0) / n;
  const my = points.reduce((sum, { y }) => sum + y, 0) / n;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (const { x, y } of points) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2;
  const nx = -Math.sin(angle);
  const ny = Math.cos(angle);
  return { nx, ny, at: nx * mx + ny * my };
}

function crossingOf(a: Line, b: Line): Point | undefined {
  const det = a.nx * b.ny - a.ny * b.nx;
  if (Math.abs(det) < 0.2) return undefined;
  return { x: (a.at * b.ny - a.ny * b.at) / det, y: (a.nx * b.at - a.at * b.nx) / det };
}
