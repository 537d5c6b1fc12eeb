import { TILE } from './dotLines.ts';

/*
 * A coat is rendered in bands that need no neighbour: each begins without anything handed on, and warms up on the rows above it, whose dots
 * are thrown away. So bands are made side by side, and any of them again alone, with the same dots. Several make up a part, which is kept
 * as one file.
 */

/** Rows of a band: two rows of tiles. */
export const BAND_ROWS = 2 * TILE.height;
/** Rows above a band on which error diffusion warms up: beyond 8 the mean of a row is like anywhere else. */
export const WARM_UP_ROWS = 32;
/** Bands of a part. */
const PART_BANDS = 4;
export const PART_ROWS = PART_BANDS * BAND_ROWS;
/** Pages are drawn in windows no wider: beyond 32,000 the page library is wrong. */
export const WINDOW_COLUMNS = 16_384;

/** Dots of one place in the coarse pictures of a coat, along each side, the finest first. */
export const CELLS = [16, 64, 256] as const;

/** How many parts a coat of so many rows has. */
export function partCount(height: number): number {
  return Math.ceil(height / PART_ROWS);
}

/** Rows of a part: from the first up to, but without, the last. */
export function partRows(height: number, part: number): { readonly from: number; readonly to: number } {
  return { from: part * PART_ROWS, to: Math.min(height, (part + 1) * PART_ROWS) };
}

/** Rows of tiles that a part holds. */
export function partTileRows(height: number, part: number): number {
  const { from, to } = partRows(height, part);
  return Math.ceil((to - from) / TILE.height);
}
