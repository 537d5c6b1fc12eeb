import { int16At, uint8At } from '../elementAt.ts';
import type { DropSizes } from './dropSizes.ts';
import { LANES } from './inkTable.ts';

/*
 * Screening: ink of 8 bits to dots of two bits. All sums are whole numbers within 16 bits, so that the kernel that screens all
 * channels at once gives the same dots; this is its reference.
 */

/** Full ink in the sums of screening: 255 · 16. */
export const FULL_DOT = 4080;
/** Full ink where nothing is passed on: 255 · 128. */
export const FULL_ORDERED = 32_640;
/** Places along each side of the mask. */
export const MASK_SIZE = 64;

/** Ways to screen. */
export const SCREENINGS = ['error diffusion', 'blue noise'] as const;
export type Screening = (typeof SCREENINGS)[number];

/** Where the mask of a channel begins, so that drops of several channels do not fall on the same dots. */
const SHIFT = { x: 23, y: 37 } as const;

/** Ink that each level lays down, beside a full drop, in whole parts of `full`. */
export function levelsOf(sizes: DropSizes, full: number): readonly [number, number, number] {
  const [small, medium, large] = sizes;
  if (!(small > 0 && medium >= small && large >= medium)) {
    throw new RangeError(`drops of ${sizes.join(', ')} pl do not grow`);
  }
  return [Math.round((small / large) * full), Math.round((medium / large) * full), full];
}

/**
 * A mask for all channels: `mask[((y mod 64) · 64 + (x mod 64)) · LANES + channel]`, the same ranks for each channel, shifted.
 * @param ranks of a blue-noise mask of {@link MASK_SIZE}
 * @param valueOf what stands for a rank as a share, 0 … 1
 */
function maskOf(ranks: Uint16Array, valueOf: (share: number) => number): Int16Array {
  const count = MASK_SIZE * MASK_SIZE;
  if (ranks.length !== count) throw new RangeError(`a mask of ${String(ranks.length)} places`);
  const mask = new Int16Array(count * LANES);
  for (let y = 0; y < MASK_SIZE; y += 1) {
    for (let x = 0; x < MASK_SIZE; x += 1) {
      for (let lane = 0; lane < LANES; lane += 1) {
        const fromX = (x + lane * SHIFT.x) % MASK_SIZE;
        const fromY = (y + lane * SHIFT.y) % MASK_SIZE;
        const rank = ranks[fromY * MASK_SIZE + fromX] ?? 0;
        mask[(y * MASK_SIZE + x) * LANES + lane] = Math.round(valueOf((rank + 0.5) / count));
      }
    }
  }
  return mask;
}

/** By how much thresholds of error diffusion are moved, so that its dots form no worms: a quarter of a small drop up or down. */
export function diffusionMask(ranks: Uint16Array, sizes: DropSizes): Int16Array {
  const most = levelsOf(sizes, FULL_DOT)[0] / 4;
  return maskOf(ranks, (share) => (2 * share - 1) * most);
}

/** Thresholds of an ordered screen, 0 … 32,767 in 15 bits behind the point. */
export function orderedMask(ranks: Uint16Array): Int16Array {
  return maskOf(ranks, (share) => Math.min(32_767, share * 32_768));
}

/** What error diffusion hands on from row to row: of each dot's place and channel, with one place more at each end. */
export function diffusionErrors(width: number): Int16Array {
  return new Int16Array((width + 2) * LANES);
}

/**
 * Screens one row by error diffusion, to and fro by its number. What a dot fires too much or too little goes on to its neighbours
 * (7, 3, 5 and 1 sixteenths). Where there is no ink there is no dot, and what was handed on to there is dropped: bare media stays bare.
 * @param inks of the row, 0 … 255 in {@link LANES} lanes each
 * @param y number of the row within its page
 * @param errors of the row before; those for the next one afterwards
 * @param mask of {@link diffusionMask}
 * @returns level of each dot, 0 … 3, in lanes
 */
export function diffuseRow(
  inks: Uint8Array,
  y: number,
  errors: Int16Array,
  mask: Int16Array,
  sizes: DropSizes,
): Uint8Array {
  const width = inks.length / LANES;
  const levels = new Uint8Array(inks.length);
  const [v1, v2, v3] = levelsOf(sizes, FULL_DOT);
  const [t1, t2, t3] = [v1 >> 1, (v1 + v2) >> 1, (v2 + v3) >> 1];
  const back = y % 2 === 1;
  const step = back ? -1 : 1;
  const maskRow = (y % MASK_SIZE) * MASK_SIZE;
  for (let lane = 0; lane < LANES; lane += 1) {
    let right = 0;
    let below = 0;
    let ahead = 0;
    let x = back ? width - 1 : 0;
    for (let i = 0; i < width; i += 1) {
      const ink = uint8At(inks, x * LANES + lane);
      const at = (x + 1) * LANES + lane;
      let rest = 0;
      if (ink > 0) {
        const wanted = (ink << 4) + int16At(errors, at) + right;
        const seen = wanted + int16At(mask, (maskRow + (x % MASK_SIZE)) * LANES + lane);
        const level = Number(seen > t1) + Number(seen > t2) + Number(seen > t3);
        levels[x * LANES + lane] = level;
        rest = wanted - (level === 0 ? 0 : level === 1 ? v1 : level === 2 ? v2 : v3);
      }
      const one = rest >> 4;
      const three = (rest * 3) >> 4;
      const five = (rest * 5) >> 4;
      // What rounding leaves goes along the row, so that nothing is lost.
      right = rest - (one + three + five);
      errors[at - step * LANES] = below + three;
      below = ahead + five;
      ahead = one;
      x += step;
    }
    // Beyond the ends of a row nothing is printed, and nothing is handed on.
    errors[(back ? 1 : width) * LANES + lane] = below;
    errors[(back ? width + 1 : 0) * LANES + lane] = 0;
  }
  return levels;
}

/**
 * Screens one row by a blue-noise mask: each dot by itself.
 * @param inks of the row, 0 … 255 in {@link LANES} lanes each
 * @param mask of {@link orderedMask}
 * @returns level of each dot, 0 … 3, in lanes
 */
export function orderedRow(inks: Uint8Array, y: number, mask: Int16Array, sizes: DropSizes): Uint8Array {
  const levels = new Uint8Array(inks.length);
  const [v1, v2, v3] = levelsOf(sizes, FULL_ORDERED);
  const maskRow = (y % MASK_SIZE) * MASK_SIZE;
  for (let i = 0; i < inks.length; i += 1) {
    const ink = uint8At(inks, i) << 7;
    const lane = i % LANES;
    const threshold = int16At(mask, (maskRow + (Math.floor(i / LANES) % MASK_SIZE)) * LANES + lane);
    const over = (from: number, size: number): number => Number(ink > from + ((size * threshold + 16_384) >> 15));
    levels[i] = over(0, v1) + over(v1, v2 - v1) + over(v2, v3 - v2);
  }
  return levels;
}
