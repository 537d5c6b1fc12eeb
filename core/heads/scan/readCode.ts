import jsQR from 'jsqr';
import type { PlotBlock } from '../checkPlot.ts';
import { type Homography, seenAt } from './homography.ts';
import { type Picture, brightness } from './picture.ts';

/** Pixels of the code made straight, and what is left free around it (share of its size). */
const SIZE_PX = 240;
const QUIET = 0.2;

/** The text of a block's code, where the picture is fine enough for it. */
export function codeOf(
  { width, height, grey }: Picture,
  view: Homography,
  { code: { xMm, yMm, sizeMm }, pale }: PlotBlock,
): string | undefined {
  const data = new Uint8ClampedArray(SIZE_PX * SIZE_PX * 4);
  const wholeMm = sizeMm * (1 + 2 * QUIET);
  for (let row = 0; row < SIZE_PX; row += 1) {
    for (let column = 0; column < SIZE_PX; column += 1) {
      const x = xMm - QUIET * sizeMm + ((column + 0.5) / SIZE_PX) * wholeMm;
      const y = yMm - QUIET * sizeMm + ((row + 0.5) / SIZE_PX) * wholeMm;
      const seen = seenAt(view, x, y);
      const value = brightness(grey, width, height, seen.x, seen.y);
      const at = (row * SIZE_PX + column) * 4;
      data.fill(pale ? 255 - value : value, at, at + 3);
      data[at + 3] = 255;
    }
  }
  return jsQR(data, SIZE_PX, SIZE_PX, { inversionAttempts: 'dontInvert' })?.data;
}

/** Whose plot a code says that it is: it holds the printer and the number of the block. */
export function printerOfCode(text: string): string | undefined {
  return /^([a-z0-9-]+) \d+$/.exec(text)?.[1];
}
