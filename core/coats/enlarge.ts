import { uint8At } from '../elementAt.ts';
import { LANES } from './inkTable.ts';

/*
 * Pictures that are inks already, at their own pixels, enlarged to dots: by the four pixels around each dot. The sums are those of the
 * kernels, bit for bit: these are their references.
 */

const FRACTION_BITS = 15;
const MOST_FRACTION = 32_767;
const INK_BITS = 7;

/** Where a dot lies between the pixels of a picture. */
export interface Step {
  /** The pixel before it. */
  readonly pixel: number;
  /** Share of the way to the next, 0 … 32,767. */
  readonly fraction: number;
}

/**
 * Where a dot lies along one side of a picture.
 * @param dot its number @param from where the picture begins and `to` ends (dots, fractions of them) @param pixels of that side
 * @param isTurned the last pixel comes first
 */
export function stepAt(dot: number, from: number, to: number, pixels: number, isTurned: boolean): Step {
  const share = (dot + 0.5 - from) / (to - from);
  const place = Math.min(pixels - 1, Math.max(0, (isTurned ? 1 - share : share) * pixels - 0.5));
  const pixel = Math.floor(place);
  return { pixel, fraction: Math.min(MOST_FRACTION, Math.round((place - pixel) * (1 << FRACTION_BITS))) };
}

function scaled(value: number, fraction: number): number {
  return (value * fraction + (1 << (FRACTION_BITS - 1))) >> FRACTION_BITS;
}

/**
 * Dots of a row of a picture.
 * @param above and `below`: rows of inks, {@link LANES} a pixel
 * @param down share of the way from one to the other
 * @returns {@link LANES} a dot
 */
export function enlargedRow(above: Uint8Array, below: Uint8Array, down: number, steps: readonly Step[]): Uint8Array {
  const last = above.length / LANES - 1;
  const out = new Uint8Array(steps.length * LANES);
  steps.forEach(({ pixel, fraction }, dot) => {
    for (let lane = 0; lane < LANES; lane += 1) {
      const between = (at: number): number => {
        const a = uint8At(above, at * LANES + lane) << INK_BITS;
        return a + scaled((uint8At(below, at * LANES + lane) << INK_BITS) - a, down);
      };
      const left = between(pixel);
      const ink = left + scaled(between(Math.min(last, pixel + 1)) - left, fraction);
      out[dot * LANES + lane] = Math.min(255, Math.max(0, (ink + (1 << (INK_BITS - 1))) >> INK_BITS));
    }
  });
  return out;
}
