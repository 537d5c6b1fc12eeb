import { areaMm2, boundsOf, turnedOutline } from '../geometry/polygon.ts';
import { anglesOf, outlineOf } from './shapes/outlines.ts';
import { type NestInput, fittingOrientations, usableLengthMm, usableWidthMm } from './nestInput.ts';

/** Why nothing is shorter than a bound: what the pieces fill, one piece, or several of which no two lie side by side. */
export type BoundReason =
  | { readonly by: 'area' }
  | { readonly by: 'piece'; readonly id: string; readonly mm: number }
  | { readonly by: 'stack'; readonly count: number; readonly mm: number };

export interface LengthBound {
  readonly mm: number;
  /** Which of the arguments rules; null on sheets, where the bound is a number of them, and of nothing. */
  readonly reason: BoundReason | null;
}

/** A length that no layout of these pieces can beat (mm): see `lengthBound`. */
export function lowerBoundMm(input: NestInput): number {
  return lengthBound(input).mm;
}

/**
 * A length that no layout of these pieces can beat, margins included; on sheets, that of the fewest sheets. The largest of
 * four arguments: area with the gap owed between neighbours; the tallest piece that may not turn; the largest least side of
 * those that may; the stack of pieces of which no two can stand side by side. Never rounded up.
 * Source: Σ(w+g)(h+g)/(W+g) − g and the single-piece and stacking bounds.
 */
export function lengthBound(input: NestInput): LengthBound {
  if (input.places && input.sheetMm !== null) {
    const count = input.pieces.reduce((sum, piece) => sum + piece.copies, 0);
    return { mm: Math.ceil(count / (input.places.columns * input.places.rows)) * input.sheetMm, reason: null };
  }
  if (input.pieces.some((piece) => piece.outline !== undefined)) {
    return { mm: outlineBoundMm(input), reason: input.sheetMm === null ? { by: 'area' } : null };
  }
  const { byAreaMm, tallest, stack, areaMm2: area } = boundsOfRectangles(input);
  if (input.sheetMm !== null) return { mm: leastSheets(input, area) * input.sheetMm, reason: null };
  const mm = input.margins.leadMm + Math.max(byAreaMm, tallest.mm, stack.mm, 0) + input.margins.trailMm;
  if (input.pieces.length === 0) return { mm, reason: null };
  if (byAreaMm >= Math.max(tallest.mm, stack.mm)) return { mm, reason: { by: 'area' } };
  return { mm, reason: tallest.mm >= stack.mm ? { by: 'piece', ...tallest } : { by: 'stack', ...stack } };
}

function boundsOfRectangles(input: NestInput): {
  readonly areaMm2: number;
  readonly byAreaMm: number;
  readonly tallest: { readonly id: string; readonly mm: number };
  readonly stack: { readonly count: number; readonly mm: number };
} {
  const usable = usableWidthMm(input);
  const { gapXMm: gx, gapYMm: gy } = input;
  let area = 0;
  let tallest = { id: '', mm: 0 };
  let stack = 0;
  let count = 0;
  for (const piece of input.pieces) {
    const { copies } = piece;
    const orientations = fittingOrientations(input, piece);
    const least = (of: (orientation: (typeof orientations)[number]) => number): number =>
      Math.min(...orientations.map(of));
    area += copies * least(({ widthMm, heightMm }) => (widthMm + gx) * (heightMm + gy));
    const leastHeight = least(({ heightMm }) => heightMm);
    if (leastHeight > tallest.mm) tallest = { id: piece.id, mm: leastHeight };
    // Two pieces wider than half of what is left beside a gap can't share a row in any allowed position.
    if (2 * least(({ widthMm }) => widthMm) + gx > usable + 1e-6) {
      stack += copies * (leastHeight + gy);
      count += copies;
    }
  }
  return {
    areaMm2: area,
    byAreaMm: area / (usable + gx) - gy,
    tallest,
    stack: { count, mm: stack - gy },
  };
}

/** With contours: what their areas fill, and the piece that reaches farthest in its shortest orientation. Gaps are not counted. */
export function outlineBoundMm(input: NestInput): number {
  const { leadMm, trailMm } = input.margins;
  let area = input.fixed.reduce((sum, { widthMm, heightMm }) => sum + widthMm * heightMm, 0);
  let tallest = input.fixed.reduce((most, { yMm, heightMm }) => Math.max(most, yMm + heightMm - leadMm), 0);
  for (const piece of input.pieces) {
    const outline = outlineOf(piece);
    area += piece.copies * areaMm2(outline);
    const heights = anglesOf(piece).map((angle) => {
      const { minY, maxY } = boundsOf(turnedOutline(outline, angle));
      return maxY - minY;
    });
    tallest = Math.max(tallest, Math.min(...heights));
  }
  if (input.sheetMm !== null) {
    return Math.ceil(area / (usableWidthMm(input) * usableLengthMm(input)) - 1e-9) * input.sheetMm;
  }
  return leadMm + Math.max(area / usableWidthMm(input), tallest) + trailMm;
}

/** Sheets by area, or by the pieces of which no two can share a sheet. */
function leastSheets(input: NestInput, area: number): number {
  const { gapXMm: gx, gapYMm: gy } = input;
  const [width, length] = [usableWidthMm(input), usableLengthMm(input)];
  const byArea = Math.ceil(area / ((width + gx) * (length + gy)) - 1e-9);
  const alone = input.pieces
    .filter((piece) =>
      fittingOrientations(input, piece).every(
        ({ widthMm, heightMm }) => 2 * widthMm + gx > width + 1e-6 && 2 * heightMm + gy > length + 1e-6,
      ),
    )
    .reduce((sum, piece) => sum + piece.copies, 0);
  return Math.max(byArea, alone);
}
