import { type Outline, areaMm2, boundsOf, turnedOutline } from '../../geometry/polygon.ts';
import { wrapDeg } from '../../geometry/turn.ts';
import type { NestPiece } from '../nestPiece.ts';
import { convexParts } from './convex.ts';

/** The outline of a piece in its own frame: its contour, else its rectangle. */
export function outlineOf({ outline, widthMm: w, heightMm: h }: NestPiece): Outline {
  return (
    outline ?? [
      { x: 0, y: 0 },
      { x: w, y: 0 },
      { x: w, y: h },
      { x: 0, y: h },
    ]
  );
}

/** The angles that a piece with a contour may lie at: by its grain and turns, or free in steps. */
export function anglesOf({ quarterTurn, halfTurn = true, grain = 'free', turnStepDeg }: NestPiece): readonly number[] {
  const half = (angles: readonly number[]): readonly number[] =>
    halfTurn ? [...angles, ...angles.map((angle) => angle + 180)] : angles;
  if (grain === 'along') return half([0]);
  if (grain === 'across') return half([90]);
  if (!quarterTurn) return half([0]);
  if (turnStepDeg === undefined) return half([0, 90]);
  return Array.from({ length: Math.max(1, Math.round(360 / turnStepDeg)) }, (_, i) => wrapDeg(i * turnStepDeg));
}

/** The narrowest that a piece can lie. */
export function leastWidthMm(piece: NestPiece): number {
  const outline = outlineOf(piece);
  return Math.min(...anglesOf(piece).map((angle) => widthAt(outline, angle)));
}

/** The shortest that a piece can lie where it is no wider than this. */
export function leastLengthMm(piece: NestPiece, mostWidthMm: number): number {
  const outline = outlineOf(piece);
  const narrow = anglesOf(piece).filter((angle) => widthAt(outline, angle) <= mostWidthMm + 1e-6);
  return Math.min(
    ...narrow.map((angle) => {
      const { minY, maxY } = boundsOf(turnedOutline(outline, angle));
      return maxY - minY;
    }),
  );
}

function widthAt(outline: Outline, angleDeg: number): number {
  const { minX, maxX } = boundsOf(turnedOutline(outline, angleDeg));
  return maxX - minX;
}

/** Twice over, or crossing itself: the parts that an outline is cut into are then not its area. */
export function isSimple(outline: Outline, partsMm2: number): boolean {
  const area = areaMm2(outline);
  return area > 1e-3 && Math.abs(partsMm2 - area) <= area * 0.01;
}

/** Area of an outline by the sum of its convex parts (mm²). */
export function partsAreaMm2(outline: Outline): number {
  return convexParts(outline).reduce((sum, part) => sum + areaMm2(part), 0);
}
