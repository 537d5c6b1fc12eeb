import { GREY_PARTS } from '../grounds.ts';

/** A picture as it was taken: planes one after the other, each row by row, 0 … 255. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue. */
  readonly planes: readonly [Uint8Array, Uint8Array, Uint8Array];
  readonly grey: Uint8Array;
}

/** Takes interleaved pixels apart. @param channels bytes of each pixel: 1 (grey), 3 or 4 */
export function pictureOf(
  data: Uint8Array | Uint8ClampedArray,
  width: number,
  height: number,
  channels: number,
): Picture {
  const plane = (from: number): Uint8Array => {
    const bytes = new Uint8Array(width * height);
    for (let i = 0, at = from; i < bytes.length; i += 1, at += channels) bytes[i] = data[at] ?? 0;
    return bytes;
  };
  if (channels < 3) {
    const grey = plane(0);
    return { width, height, planes: [grey, grey, grey], grey };
  }
  const planes = [plane(0), plane(1), plane(2)] as const;
  return { width, height, planes: [...planes], grey: greyOf(planes) };
}

function greyOf([red, green, blue]: readonly [Uint8Array, Uint8Array, Uint8Array]): Uint8Array {
  const [r, g, b] = GREY_PARTS;
  return red.map((value, i) => r * value + g * (green[i] ?? 0) + b * (blue[i] ?? 0) + 0.5);
}

/** Brightness between pixels; outside of the picture that of its edge. */
export function brightness(plane: Uint8Array, width: number, height: number, x: number, y: number): number {
  const cx = Math.min(Math.max(x - 0.5, 0), width - 1);
  const cy = Math.min(Math.max(y - 0.5, 0), height - 1);
  const x0 = Math.floor(cx);
  const y0 = Math.floor(cy);
  const fx = cx - x0;
  const fy = cy - y0;
  const at = y0 * width + x0;
  const right = x0 + 1 < width ? 1 : 0;
  const below = y0 + 1 < height ? width : 0;
  const a = plane[at] ?? 0;
  const b = plane[at + right] ?? 0;
  const c = plane[at + below] ?? 0;
  const d = plane[at + below + right] ?? 0;
  return a + (b - a) * fx + (c - a + (a - b - c + d) * fx) * fy;
}

/** Grey of a picture made smaller by a whole factor, pixel by pixel the mean of those that it takes the place of. */
export function smallGrey(
  { width, height, grey: all }: Picture,
  factor: number,
): { readonly width: number; readonly height: number; readonly grey: Uint8Array } {
  const w = Math.floor(width / factor);
  const h = Math.floor(height / factor);
  const grey = new Uint8Array(w * h);
  const of = factor * factor;
  for (let y = 0; y < h; y += 1) {
    for (let x = 0; x < w; x += 1) {
      let sum = 0;
      for (let dy = 0; dy < factor; dy += 1) {
        let at = (y * factor + dy) * width + x * factor;
        for (let dx = 0; dx < factor; dx += 1, at += 1) {
          sum += all[at] ?? 0;
        }
      }
      grey[y * w + x] = sum / of;
    }
  }
  return { width: w, height: h, grey };
}
