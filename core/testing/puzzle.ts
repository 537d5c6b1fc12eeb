import { itemAt } from '../elementAt.ts';
import { type Outline, type PointMm, boundsOf, movedOutline, turnedOutline } from '../geometry/polygon.ts';
import type { Random } from '../random.ts';

export interface PuzzleOptions {
  readonly pieces: number;
  readonly widthMm: number;
  readonly lengthMm: number;
  /** What the cuts are like: straight, zigzag, or stairs. */
  readonly cut: 'straight' | 'zigzag' | 'stairs';
  /** The angles by which pieces may come turned. */
  readonly angles: readonly number[];
}

/**
 * Outlines whose shortest nest is known, because a full strip was cut into them: each is halved by a line across it, of the
 * kind asked for, until there are enough.
 */
export function puzzle(options: PuzzleOptions, random: Random): readonly Outline[] {
  let parts: Outline[] = [
    [
      { x: 0, y: 0 },
      { x: options.widthMm, y: 0 },
      { x: options.widthMm, y: options.lengthMm },
      { x: 0, y: options.lengthMm },
    ],
  ];
  while (parts.length < options.pieces) {
    // The largest is cut next.
    const size = (part: Outline): number => {
      const { minX, minY, maxX, maxY } = boundsOf(part);
      return (maxX - minX) * (maxY - minY);
    };
    const [largest, ...rest] = [...parts].sort((a, b) => size(b) - size(a));
    if (!largest) break;
    const halves = halved(largest, options.cut, random);
    parts = halves ? [...rest, ...halves] : [...rest, largest];
    if (!halves && random() < 0.01) break;
  }
  return parts.map((part) => {
    const angle = options.angles[Math.floor(random() * options.angles.length)] ?? 0;
    const turned = turnedOutline(part, angle);
    const { minX, minY } = boundsOf(turned);
    return movedOutline(turned, -minX, -minY);
  });
}

/** Cuts along a path between two points of the outline; undefined where the path would leave it. */
function halved(part: Outline, cut: PuzzleOptions['cut'], random: Random): [Outline, Outline] | undefined {
  const { minX, minY, maxX, maxY } = boundsOf(part);
  const across = maxX - minX > maxY - minY;
  for (let tries = 0; tries < 30; tries++) {
    const share = 0.35 + 0.3 * random();
    const tilt = cut === 'straight' ? (random() - 0.5) * 0.3 : 0;
    // From one long side to the other, in the frame (along the long side, across it).
    const [u0, v0, u1, v1] = across ? [minX, minY, maxX, maxY] : [minY, minX, maxY, maxX];
    const line = pathAcross(cut, u0 + (u1 - u0) * share, v0, v1, (u1 - u0) * tilt, random);
    const path = line.map(([u, v]): PointMm => (across ? { x: u, y: v } : { x: v, y: u }));
    const found = split(part, path);
    if (found) return found;
  }
  return undefined;
}

function pathAcross(
  cut: PuzzleOptions['cut'],
  u: number,
  v0: number,
  v1: number,
  tilt: number,
  random: Random,
): [number, number][] {
  const over = (v1 - v0) * 0.02;
  const [from, to] = [v0 - over, v1 + over];
  if (cut === 'straight')
    return [
      [u - tilt / 2, from],
      [u + tilt / 2, to],
    ];
  const teeth = 2 + Math.floor(random() * 3);
  const deep = ((v1 - v0) / teeth) * (0.2 + 0.3 * random());
  const path: [number, number][] = [];
  for (let i = 0; i <= teeth; i++) {
    const v = from + ((to - from) * i) / teeth;
    const side = i % 2 === 0 ? 0 : deep;
    if (cut === 'stairs' && i > 0) path.push([u + (i % 2 === 0 ? deep : 0), v]);
    path.push([u + side, v]);
  }
  return path;
}

/** The two sides of a path that crosses the outline exactly twice, at its first and at its last stretch. */
function split(part: Outline, path: Outline): [Outline, Outline] | undefined {
  const hits: { at: number; t: number; leg: number; s: number; point: PointMm }[] = [];
  for (let i = 0; i < part.length; i++) {
    const [a, b] = [itemAt(part, i), itemAt(part, (i + 1) % part.length)];
    for (let k = 0; k + 1 < path.length; k++) {
      const hit = crossing(a, b, itemAt(path, k), itemAt(path, k + 1));
      if (hit) hits.push({ at: i, t: hit.t, leg: k, s: hit.s, point: hit.point });
    }
  }
  if (hits.length !== 2) return undefined;
  const [first, second] = hits.sort((a, b) => a.leg - b.leg || a.s - b.s);
  if (!first || !second) return undefined;
  const inner = path.slice(first.leg + 1, second.leg + 1);
  const walk = (from: typeof first, to: typeof first): PointMm[] => {
    const points: PointMm[] = [];
    for (let i = from.at; i !== to.at; i = (i + 1) % part.length) points.push(itemAt(part, (i + 1) % part.length));
    return points;
  };
  if (first.at === second.at) return undefined;
  const one = [first.point, ...inner, second.point, ...walk(second, first)];
  const two = [second.point, ...[...inner].reverse(), first.point, ...walk(first, second)];
  return [one, two];
}

function crossing(
  a: PointMm,
  b: PointMm,
  c: PointMm,
  d: PointMm,
): { readonly t: number; readonly s: number; readonly point: PointMm } | undefined {
  const [rx, ry, sx, sy] = [b.x - a.x, b.y - a.y, d.x - c.x, d.y - c.y];
  const det = rx * sy - ry * sx;
  if (Math.abs(det) < 1e-12) return undefined;
  const t = ((c.x - a.x) * sy - (c.y - a.y) * sx) / det;
  const s = ((c.x - a.x) * ry - (c.y - a.y) * rx) / det;
  if (t <= 0 || t >= 1 || s < 0 || s >= 1) return undefined;
  return { t, s, point: { x: a.x + t * rx, y: a.y + t * ry } };
}
