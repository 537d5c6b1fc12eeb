import type { RectMm } from '../../core/geometry/frame.ts';

/**
 * From a piece as it was made (its upper left corner at 0, 0) to where it lies: an SVG transform in the frame of the run.
 * Mirrored: left to right, before it is turned. y points down there, so that a turn counter-clockwise is a negative one.
 */
export function uprightTransform(
  size: { readonly widthMm: number; readonly heightMm: number },
  laid: RectMm,
  angleDeg: number,
  mirrored = false,
): string {
  const middle = `${String(laid.xMm + laid.widthMm / 2)} ${String(laid.yMm + laid.heightMm / 2)}`;
  const half = `${String(-size.widthMm / 2)} ${String(-size.heightMm / 2)}`;
  return `translate(${middle}) rotate(${String(-angleDeg)}) ${mirrored ? 'scale(-1 1) ' : ''}translate(${half})`;
}
