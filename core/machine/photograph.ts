import { type Homography, type Point, homographyOf } from '../heads/scan/homography.ts';
import type { Drawing } from '../heads/drawPlot.ts';
import type { Random } from '../random.ts';

/** How somebody scans or photographs a print. */
export interface Taking {
  /** Pixels for each mm. */
  readonly scale: number;
  readonly turnDeg: number;
  /** Corners are off by up to this share of its size. */
  readonly perspective: number;
  /** Light that is lost towards one corner. */
  readonly falloff: number;
  /** Deviation of what blurs it, in pixels, and of its noise (0 … 255). */
  readonly blur: number;
  readonly noise: number;
}

/** Free around the print (mm). */
const AROUND_MM = 8;
const TABLE: readonly [number, number, number] = [205, 201, 194];

/**
 * What a camera or scanner makes of a drawn print.
 * @param drawn with `drawnScale` pixels for each mm: finer than what is taken
 */
export function photograph(drawn: Drawing, drawnScale: number, taking: Taking, random: Random): Drawing {
  const { scale, turnDeg, perspective, falloff, blur, noise } = taking;
  const wMm = drawn.width / drawnScale;
  const hMm = drawn.height / drawnScale;
  const turn = (turnDeg / 180) * Math.PI;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const jitter = (size: number): number => (random() * 2 - 1) * perspective * size;
  const corners: Point[] = [
    { x: 0, y: 0 },
    { x: wMm, y: 0 },
    { x: wMm, y: hMm },
    { x: 0, y: hMm },
  ];
  const turned = corners.map(({ x, y }) => ({
    x: (cos * (x - wMm / 2) - sin * (y - hMm / 2)) * scale + jitter(wMm * scale),
    y: (sin * (x - wMm / 2) + cos * (y - hMm / 2)) * scale + jitter(hMm * scale),
  }));
  const left = Math.min(...turned.map(({ x }) => x)) - AROUND_MM * scale;
  const top = Math.min(...turned.map(({ y }) => y)) - AROUND_MM * scale;
  const width = Math.ceil(Math.max(...turned.map(({ x }) => x)) + AROUND_MM * scale - left);
  const height = Math.ceil(Math.max(...turned.map(({ y }) => y)) + AROUND_MM * scale - top);
  const placed = turned.map(({ x, y }) => ({ x: x - left, y: y - top }));
  const back = homographyOf(placed, corners);
  if (!back) throw new Error('a print seen edge on');
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  project(drawn, drawnScale, back, width, height, planes);
  const draws = noiseTable(random);
  const darkCorner = random() * 4;
  const rgb = new Uint8ClampedArray(width * height * 3);
  for (const [plane, values] of planes.entries()) {
    const blurred = blurredBy(values, width, height, blur);
    for (let y = 0; y < height; y += 1) {
      const drawnFrom = Math.floor(random() * NOISE_DRAWS);
      for (let x = 0; x < width; x += 1) {
        const u = darkCorner < 2 ? x / width : 1 - x / width;
        const v = darkCorner % 2 < 1 ? y / height : 1 - y / height;
        const light = 1 - falloff * ((u + v) / 2) ** 1.5;
        const i = y * width + x;
        rgb[i * 3 + plane] = (blurred[i] ?? 0) * light + noise * (draws[(drawnFrom + x) % NOISE_DRAWS] ?? 0);
      }
    }
  }
  return { width, height, rgb };
}

function project(
  drawn: Drawing,
  scale: number,
  back: Homography,
  width: number,
  height: number,
  planes: readonly Float32Array[],
): void {
  const [red, green, blue] = planes;
  if (!red || !green || !blue) return;
  const [a, b, c, d, e, f, g, h] = back;
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      let sumR = 0;
      let sumG = 0;
      let sumB = 0;
      for (let s = 0; s < 4; s += 1) {
        const px = x + ((s & 1) === 0 ? 0.25 : 0.75);
        const py = y + (s < 2 ? 0.25 : 0.75);
        const w = scale / (g * px + h * py + 1);
        const u = Math.floor((a * px + b * py + c) * w);
        const v = Math.floor((d * px + e * py + f) * w);
        if (u < 0 || v < 0 || u >= drawn.width || v >= drawn.height) {
          sumR += TABLE[0];
          sumG += TABLE[1];
          sumB += TABLE[2];
          continue;
        }
        const i = (v * drawn.width + u) * 3;
        sumR += drawn.rgb[i] ?? 0;
        sumG += drawn.rgb[i + 1] ?? 0;
        sumB += drawn.rgb[i + 2] ?? 0;
      }
      const i = y * width + x;
      red[i] = sumR / 4;
      green[i] = sumG / 4;
      blue[i] = sumB / 4;
    }
  }
}

/** Gaussian blur, rows first; beyond its edges a picture goes on as it ends. */
function blurredBy(values: Float32Array, width: number, height: number, sigma: number): Float32Array {
  if (sigma <= 0) return values;
  const reach = Math.ceil(sigma * 3);
  const raw = Array.from({ length: reach * 2 + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma ** 2)));
  const all = raw.reduce((sum, each) => sum + each, 0);
  const kernel = Float32Array.from(raw, (each) => each / all);
  const across = new Float32Array(values.length);
  const line = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y += 1) {
    const row = values.subarray(y * width, (y + 1) * width);
    line.fill(row[0] ?? 0, 0, reach);
    line.set(row, reach);
    line.fill(row[width - 1] ?? 0, reach + width);
    for (let x = 0; x < width; x += 1) {
      let sum = 0;
      for (let k = 0; k < kernel.length; k += 1) sum += (line[x + k] ?? 0) * (kernel[k] ?? 0);
      across[y * width + x] = sum;
    }
  }
  const blurred = new Float32Array(values.length);
  for (let y = 0; y < height; y += 1) {
    const to = blurred.subarray(y * width, (y + 1) * width);
    for (let k = 0; k < kernel.length; k += 1) {
      const from = Math.min(height - 1, Math.max(0, y + k - reach)) * width;
      const weight = kernel[k] ?? 0;
      for (let x = 0; x < width; x += 1) to[x] = (to[x] ?? 0) + (across[from + x] ?? 0) * weight;
    }
  }
  return blurred;
}

/** So many draws of noise are made; each row takes them from another place on. */
const NOISE_DRAWS = 1 << 16;

function noiseTable(random: Random): Float32Array {
  return Float32Array.from(
    { length: NOISE_DRAWS },
    () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random()),
  );
}
