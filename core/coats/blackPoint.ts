/** L, 0 … 100, of the darkest colour of the pixels and of the printer. */
export interface BlackPoints {
  readonly input: number;
  readonly output: number;
}

type Triple = readonly [number, number, number];

const D50: Triple = [0.9642, 1, 0.8249];
const FULL = 65_535;
const NEUTRAL = 0x8080;
const EPSILON = 6 / 29;

/** Lab under D50 to XYZ. */
export function xyzOf([l, a, b]: Triple): Triple {
  const fy = (l + 16) / 116;
  const back = (f: number): number => (f > EPSILON ? f ** 3 : 3 * EPSILON ** 2 * (f - 4 / 29));
  return [D50[0] * back(fy + a / 500), D50[1] * back(fy), D50[2] * back(fy - b / 200)];
}

/** XYZ to Lab under D50. */
export function labOf([x, y, z]: Triple): Triple {
  const f = (t: number): number => (t > EPSILON ** 3 ? Math.cbrt(t) : t / (3 * EPSILON ** 2) + 4 / 29);
  const [fx, fy, fz] = [f(x / D50[0]), f(y / D50[1]), f(z / D50[2])];
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/**
 * Black-point compensation: the black of the pixels becomes the black of the printer, white stays, and what lies between moves along,
 * by each axis of XYZ: v′ = v · (bₒ − w) ÷ (bᵢ − w) − w · (bₒ − bᵢ) ÷ (bᵢ − w). Black points are taken as neutral.
 * Source: Adobe Systems, Black Point Compensation, 2006 (ISO 18619).
 * @param colours Lab of 16 bits, interleaved: L of 65,535 is 100, a and b of 0x8080 are 0
 */
export function compensated(colours: Uint16Array, { input, output }: BlackPoints): Uint16Array {
  const from = xyzOf([input, 0, 0]);
  const to = xyzOf([output, 0, 0]);
  const moved = new Uint16Array(colours.length);
  const axis = (i: 0 | 1 | 2, value: number): number => {
    const [w, bi, bo] = [D50[i], from[i], to[i]];
    return (value * (bo - w)) / (bi - w) - (w * (bo - bi)) / (bi - w);
  };
  for (let at = 0; at < colours.length; at += 3) {
    const l = ((colours[at] ?? 0) / FULL) * 100;
    const a = ((colours[at + 1] ?? 0) - NEUTRAL) / 257;
    const b = ((colours[at + 2] ?? 0) - NEUTRAL) / 257;
    const [x, y, z] = xyzOf([l, a, b]);
    const [l2, a2, b2] = labOf([axis(0, x), axis(1, y), axis(2, z)]);
    moved[at] = held((l2 / 100) * FULL);
    moved[at + 1] = held(a2 * 257 + NEUTRAL);
    moved[at + 2] = held(b2 * 257 + NEUTRAL);
  }
  return moved;
}

function held(value: number): number {
  return Math.round(Math.min(FULL, Math.max(0, value)));
}
