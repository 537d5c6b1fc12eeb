import { areaMm2 } from '../geometry/polygon.ts';
import { type BoundReason, type LengthBound, lengthBound } from './bound.ts';
import { type LaidPiece, type LayoutClash, findClashes, extentOf } from './checkLayout.ts';
import type { NestInput } from './nestInput.ts';
import type { SideReach } from './usableWidth.ts';

export interface LayoutFigures {
  readonly lengthMm: number;
  readonly boundMm: number;
  /** What rules the bound; null on sheets. */
  readonly boundReason: BoundReason | null;
  /** Area of the pieces, of those with a contour within it, ÷ (media width × used length). */
  readonly utilisation: number;
  readonly pieceAreaMm2: number;
  /** Pieces on each other or outside: these can't be printed. */
  readonly clashes: readonly LayoutClash[];
  /** Closer than the gap, but not on each other. */
  readonly tight: readonly LayoutClash[];
}

/** Length that a layout takes which ends at `endMm`: whole sheets, or what is used of a roll with the trail margin. */
export function usedLengthMm(
  input: { readonly sheetMm: number | null; readonly margins: { readonly trailMm: number } },
  endMm: number,
): number {
  if (endMm <= 0) return 0;
  return input.sheetMm === null
    ? endMm + input.margins.trailMm
    : Math.ceil(endMm / input.sheetMm - 1e-9) * input.sheetMm;
}

/** Where the last piece ends. */
export function endOf(laid: readonly LaidPiece[]): number {
  return laid.reduce((most, piece) => {
    const { yMm, heightMm } = extentOf(piece);
    return Math.max(most, yMm + heightMm);
  }, 0);
}

/**
 * What a layout amounts to, whoever made it. `input` holds the sizes before turning, `laid` the pieces as they lie.
 * @param over what is printed over the edges of the media
 * @param bound of the input, where it is known already: it is the same however the pieces lie
 */
export function layoutFigures(
  input: NestInput,
  laid: readonly LaidPiece[],
  mediaWidthMm: number,
  over: SideReach = { leftMm: 0, rightMm: 0 },
  bound: LengthBound = lengthBound(input),
): LayoutFigures {
  const lengthMm = usedLengthMm(input, endOf(laid));
  const pieceAreaMm2 = laid.reduce(
    (sum, { outline, widthMm, heightMm }) => sum + (outline ? areaMm2(outline) : widthMm * heightMm),
    0,
  );
  // Room for marks at the ends is no wall: what lies in it is told by the marks.
  const limits = {
    widthMm: input.widthMm,
    leftMm: 0,
    rightMm: 0,
    over,
    leadMm: 0,
    gapXMm: 0,
    gapYMm: 0,
    sheetMm: input.sheetMm,
  };
  const clashes = findClashes(laid, limits);
  const hard = new Set(clashes.flatMap((clash) => (clash.kind === 'pair' ? [`${clash.a}|${clash.b}`] : [])));
  const tight = findClashes(laid, { ...limits, gapXMm: input.gapXMm, gapYMm: input.gapYMm }).filter(
    (clash) => clash.kind === 'pair' && !hard.has(`${clash.a}|${clash.b}`),
  );
  return {
    lengthMm,
    boundMm: input.pieces.length === 0 ? 0 : bound.mm,
    boundReason: bound.reason,
    utilisation: lengthMm > 0 ? pieceAreaMm2 / (mediaWidthMm * lengthMm) : 0,
    pieceAreaMm2,
    clashes,
    tight,
  };
}
