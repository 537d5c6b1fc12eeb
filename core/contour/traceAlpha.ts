import { contours } from 'd3-contour';
import { type Outline, areaMm2, simplified } from '../geometry/polygon.ts';

/** Half covered is the edge. */
const EDGE = 127.5;
/** Specks smaller than this are dust (square pixels), and more points than this are no line that a knife could follow. */
const DUST_PX2 = 9;
const MOST_POINTS = 4000;
/** How far a traced line may be off (pixels): at first, and at most. */
const WITHIN_PX = 0.25;
const MOST_OFF_PX = 2;

/**
 * The edge of what is not transparent, between the pixels by their opacity (marching squares).
 * @param alpha one byte a pixel, row by row
 * @returns rings in pixels, holes among them; empty where nothing or all is opaque, or where it frays beyond use
 */
export function traceAlpha(alpha: Uint8Array, width: number, height: number): Outline[] {
  const n = width * height;
  let opaque = 0;
  for (let i = 0; i < n; i++) if ((alpha[i] ?? 0) > EDGE) opaque += 1;
  if (opaque === 0 || opaque === n) return [];
  const [found] = contours().size([width, height]).smooth(true).thresholds([EDGE])(Array.from(alpha.subarray(0, n)));
  const rings = (found?.coordinates ?? [])
    .flat()
    .map((ring) => ring.slice(0, -1).map(([x = 0, y = 0]) => ({ x, y })))
    .filter((ring) => ring.length > 2 && areaMm2(ring) > DUST_PX2);
  for (let within = WITHIN_PX; within <= MOST_OFF_PX; within *= 2) {
    const thin = rings.map((ring) => simplified(ring, within)).filter((ring) => ring.length > 2);
    if (thin.reduce((sum, ring) => sum + ring.length, 0) <= MOST_POINTS) return thin;
  }
  return [];
}
