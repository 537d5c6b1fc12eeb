/** RGBA, straight alpha, rows from the top. */
export interface Pixels {
  readonly data: Uint8Array;
  readonly width: number;
  readonly height: number;
}

/** Two drawings of one thing differ along its edges: a pixel must lie between what is near its place in the other. */
const NEAR_PX = 1;
/** So far it may lie beyond, of 255. */
const TOLERANCE = 40;
/** Share of pixels that may be unlike. */
const MOST_UNLIKE = 0.0004;

/** Whether two drawings show the same, but for the softness of their edges. What is white counts where there is nothing in the other. */
export function alike(a: Pixels, b: Pixels): boolean {
  if (a.width !== b.width || a.height !== b.height) return false;
  const most = Math.max(2, MOST_UNLIKE * a.width * a.height);
  const [one, two] = [mixed(a), mixed(b)];
  return unlike(one, two, a.width, a.height, most) <= most && unlike(two, one, a.width, a.height, most) <= most;
}

/** Colours mixed with how much of them lies there: alike on every paper where they are alike so. */
function mixed({ data, width, height }: Pixels): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  for (let i = 0; i < out.length; i += 4) {
    const alpha = data[i + 3] ?? 0;
    if (alpha === 0) continue;
    for (let c = 0; c < 3; c++) {
      const colour = data[i + c] ?? 0;
      out[i + c] = alpha === 255 ? colour : (colour * alpha) / 255;
    }
    out[i + 3] = alpha;
  }
  return out;
}

/** Pixels of the first that are unlike what is near their place in the second; counting ends beyond `most`. */
function unlike(a: Uint8Array, b: Uint8Array, width: number, height: number, most: number): number {
  let count = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      if (same(a, b, at) || isBetween(a, at, b, x, y, width, height)) continue;
      count += 1;
      if (count > most) return count;
    }
  }
  return count;
}

function same(a: Uint8Array, b: Uint8Array, at: number): boolean {
  for (let c = 0; c < 4; c++) if (Math.abs((a[at + c] ?? 0) - (b[at + c] ?? 0)) > TOLERANCE) return false;
  return true;
}

function isBetween(
  a: Uint8Array,
  at: number,
  b: Uint8Array,
  x: number,
  y: number,
  width: number,
  height: number,
): boolean {
  for (let c = 0; c < 4; c++) {
    let least = 255;
    let most = 0;
    for (let row = Math.max(0, y - NEAR_PX); row <= Math.min(height - 1, y + NEAR_PX); row++) {
      for (let column = Math.max(0, x - NEAR_PX); column <= Math.min(width - 1, x + NEAR_PX); column++) {
        const value = b[(row * width + column) * 4 + c] ?? 0;
        if (value < least) least = value;
        if (value > most) most = value;
      }
    }
    const own = a[at + c] ?? 0;
    if (own < least - TOLERANCE || own > most + TOLERANCE) return false;
  }
  return true;
}
