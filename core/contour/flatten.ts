type Point = readonly [number, number];

/** How far the chords may be off their curve, in the units of the points. */
const OFF = 0.02;
const MOST_CHORDS = 96;

/**
 * A cubic Bézier curve as chords, without its first point. Their number is that of Wang's bound for the deviation.
 */
export function curvePoints(a: Point, b: Point, c: Point, d: Point): Point[] {
  const bend = Math.max(
    Math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]),
    Math.hypot(b[0] - 2 * c[0] + d[0], b[1] - 2 * c[1] + d[1]),
  );
  const n = Math.min(MOST_CHORDS, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / OFF))));
  return Array.from({ length: n }, (_, i): Point => {
    const t = (i + 1) / n;
    const s = 1 - t;
    const at = (k: 0 | 1): number => s * s * s * a[k] + 3 * s * s * t * b[k] + 3 * s * t * t * c[k] + t * t * t * d[k];
    return [at(0), at(1)];
  });
}

/** Points as x, y, x, y … to 0.001 mm, no two of them the same; undefined where they enclose nothing. */
export function ringFromPoints(points: readonly Point[]): number[] | undefined {
  const ring: number[] = [];
  for (const [px, py] of points) {
    const [x, y] = [Math.round(px * 1000) / 1000, Math.round(py * 1000) / 1000];
    if (!Number.isFinite(x) || !Number.isFinite(y)) return undefined;
    const n = ring.length;
    if (n === 0 || ring[n - 2] !== x || ring[n - 1] !== y) ring.push(x, y);
  }
  const n = ring.length;
  if (n > 2 && ring[0] === ring[n - 2] && ring[1] === ring[n - 1]) ring.length = n - 2;
  return ring.length >= 6 && Math.abs(twiceRingArea(ring)) > 1 ? ring : undefined;
}

function twiceRingArea(ring: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < ring.length; i += 2) {
    const [x, y] = [ring[i] ?? 0, ring[i + 1] ?? 0];
    const [nx, ny] = [ring[(i + 2) % ring.length] ?? 0, ring[(i + 3) % ring.length] ?? 0];
    sum += x * ny - nx * y;
  }
  return sum;
}
