import { type Outline, movedOutline, turnedOutline } from './polygon.ts';
import { turnedSize } from './turn.ts';

/**
 * A ring of a piece where the piece lies: mirrored left to right, then turned about the middle of the piece.
 * @param ring from the upper left corner of the upright piece (mm)
 * @param place the corner is that of the turned piece
 */
export function laidOutline(
  ring: Outline,
  { widthMm, heightMm }: { readonly widthMm: number; readonly heightMm: number },
  { xMm, yMm, angleDeg }: { readonly xMm: number; readonly yMm: number; readonly angleDeg: number },
  mirrored = false,
): Outline {
  const upright = mirrored ? ring.map(({ x, y }) => ({ x: widthMm - x, y })) : ring;
  const about = movedOutline(upright, -widthMm / 2, -heightMm / 2);
  const laid = turnedSize(widthMm, heightMm, angleDeg);
  return movedOutline(turnedOutline(about, angleDeg), xMm + laid.widthMm / 2, yMm + laid.heightMm / 2);
}
