import type { Sharp } from 'sharp';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import { traceAlpha } from '../../../core/contour/traceAlpha.ts';
import { ringFromPoints } from '../../../core/contour/flatten.ts';

/** Longest side of the picture that an edge is traced in: the line lies between its pixels. */
export const TRACE_PX = 1000;

/**
 * The edge of what is not transparent in a picture, as a line to cut along (mm from the upper left corner of the trim).
 * @param picture with its bleed; @param box what it shows: its corner from the trim's, and its size
 */
export async function traceEdge(
  picture: Sharp,
  box: { readonly xMm: number; readonly yMm: number; readonly widthMm: number; readonly heightMm: number },
): Promise<CutLine[]> {
  const { data, info } = await picture
    .resize({ width: TRACE_PX, height: TRACE_PX, fit: 'inside', withoutEnlargement: true })
    .ensureAlpha()
    .extractChannel('alpha')
    .toColourspace('b-w')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const [kx, ky] = [box.widthMm / info.width, box.heightMm / info.height];
  const rings = traceAlpha(data, info.width, info.height).flatMap((ring) => {
    const flat = ringFromPoints(ring.map(({ x, y }) => [box.xMm + x * kx, box.yMm + y * ky]));
    return flat ? [flat] : [];
  });
  return rings.length > 0 ? [{ from: 'picture', name: null, rings }] : [];
}
