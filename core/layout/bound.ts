import { type NestInput, usableWidthMm } from './nestInput.ts';

/**
 * A length that no layout of these pieces can beat, margins included (mm). The largest of four arguments:
 * area with the gap owed between neighbours; the tallest piece that may not turn; the largest least side of those that
 * may; the stack of pieces of which no two can stand side by side. Never rounded up.
 * Source: Σ(w+g)(h+g)/(W+g) − g and the single-piece and stacking bounds.
 */
export function lowerBoundMm(input: NestInput): number {
  const usable = usableWidthMm(input);
  const { gapXMm: gx, gapYMm: gy } = input;
  let area = 0;
  let tallest = 0;
  let stack = 0;
  for (const { widthMm: w, heightMm: h, copies, quarterTurn } of input.pieces) {
    area += copies * (quarterTurn ? Math.min((w + gx) * (h + gy), (h + gx) * (w + gy)) : (w + gx) * (h + gy));
    // A piece that may turn but is too long to lie across stands only one way.
    const uprightFits = w <= usable + 1e-6;
    const turnedFits = quarterTurn && h <= usable + 1e-6;
    const leastHeight = Math.min(uprightFits ? h : Infinity, turnedFits ? w : Infinity);
    tallest = Math.max(tallest, leastHeight);
    const leastWidth = Math.min(uprightFits ? w : Infinity, turnedFits ? h : Infinity);
    // Two pieces wider than half of what is left beside a gap can't share a row in any allowed position.
    if (2 * leastWidth + gx > usable + 1e-6) stack += copies * (leastHeight + gy);
  }
  const byArea = area / (usable + gx) - gy;
  return input.margins.leadMm + Math.max(byArea, tallest, stack - gy, 0) + input.margins.trailMm;
}
