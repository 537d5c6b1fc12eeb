import type { RectMm } from '../geometry/frame.ts';
import { laidOutline } from '../geometry/laidOutline.ts';
import { type Outline, boundsOf } from '../geometry/polygon.ts';
import type { Sides } from '../ticket/ticket.ts';

interface Size {
  readonly widthMm: number;
  readonly heightMm: number;
}

/**
 * Where a piece is cut: its rectangle without its bleed. Ticks and cut files both take it from here.
 * @param size of the upright piece with its bleed (mm)
 * @returns a ring from the upper left corner of the upright piece
 */
export function trimRing({ widthMm, heightMm }: Size, { leftMm, topMm, rightMm, bottomMm }: Sides): Outline {
  const [right, bottom] = [widthMm - rightMm, heightMm - bottomMm];
  return [
    { x: leftMm, y: topMm },
    { x: right, y: topMm },
    { x: right, y: bottom },
    { x: leftMm, y: bottom },
  ];
}

/**
 * The rectangle around what is cut of a piece as it lies.
 * @param cut rings of its contour, from the upper left corner of the upright piece; without any it is cut along its trim
 */
export function laidTrim(
  { cut, bleed, ...size }: Size & { readonly bleed: Sides; readonly cut: readonly Outline[] },
  place: { readonly xMm: number; readonly yMm: number; readonly angleDeg: number },
  mirrored: boolean,
): RectMm {
  const rings = cut.length > 0 ? cut : [trimRing(size, bleed)];
  const { minX, minY, maxX, maxY } = boundsOf(rings.flatMap((ring) => laidOutline(ring, size, place, mirrored)));
  return { xMm: minX, yMm: minY, widthMm: maxX - minX, heightMm: maxY - minY };
}
