import { lowerBoundMm } from './bound.ts';
import { type LaidPiece, type LayoutClash, findClashes } from './checkLayout.ts';
import type { NestInput } from './nestInput.ts';

export interface LayoutFigures {
  readonly lengthMm: number;
  readonly boundMm: number;
  /** Σ w·h ÷ (media width × used length). */
  readonly utilisation: number;
  readonly pieceAreaMm2: number;
  /** Pieces on each other or outside: these can't be printed. */
  readonly clashes: readonly LayoutClash[];
  /** Closer than the gap, but not on each other. */
  readonly tight: readonly LayoutClash[];
}

/** What a layout amounts to, whoever made it. `input` holds the sizes before turning, `laid` the pieces as they lie. */
export function layoutFigures(input: NestInput, laid: readonly LaidPiece[], mediaWidthMm: number): LayoutFigures {
  const end = laid.reduce((most, piece) => Math.max(most, piece.yMm + piece.heightMm), 0);
  const lengthMm = laid.length === 0 ? 0 : end + input.margins.trailMm;
  const pieceAreaMm2 = laid.reduce((sum, piece) => sum + piece.widthMm * piece.heightMm, 0);
  // Room for marks at the ends is no wall: what lies in it is told by the marks.
  const limits = { widthMm: input.widthMm, leftMm: 0, rightMm: 0, leadMm: 0, gapXMm: 0, gapYMm: 0 };
  const clashes = findClashes(laid, limits);
  const hard = new Set(clashes.flatMap((clash) => (clash.kind === 'pair' ? [`${clash.a}|${clash.b}`] : [])));
  const tight = findClashes(laid, { ...limits, gapXMm: input.gapXMm, gapYMm: input.gapYMm }).filter(
    (clash) => clash.kind === 'pair' && !hard.has(`${clash.a}|${clash.b}`),
  );
  return {
    lengthMm,
    boundMm: input.pieces.length === 0 ? 0 : lowerBoundMm(input),
    utilisation: lengthMm > 0 ? pieceAreaMm2 / (mediaWidthMm * lengthMm) : 0,
    pieceAreaMm2,
    clashes,
    tight,
  };
}
