import { type RectMm, closerThan } from '../geometry/frame.ts';

/** A piece as it lies: turning is already in its width and height. */
export interface LaidPiece extends RectMm {
  readonly key: string;
}

export type LayoutClash =
  | { readonly kind: 'pair'; readonly a: string; readonly b: string }
  | { readonly kind: 'out-of-bounds'; readonly key: string; readonly overMm: number };

export interface LayoutLimits {
  /** Usable width: pieces lie from leftMm to widthMm − rightMm. */
  readonly widthMm: number;
  readonly leftMm: number;
  readonly rightMm: number;
  readonly leadMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** Nothing may lie across the end of a sheet. */
  readonly sheetMm?: number | null | undefined;
}

const TOLERANCE_MM = 1e-3;

/** How far a piece reaches over the end of the sheet on which it begins. */
function overSheetMm({ yMm, heightMm }: LaidPiece, sheetMm: number | null): number {
  if (sheetMm === null) return 0;
  const sheet = Math.floor(yMm / sheetMm + 1e-9);
  return yMm + heightMm - (sheet + 1) * sheetMm;
}

/**
 * The judge of every layout, whoever made it: pieces too close to each other, or beyond the margins.
 * Sweeps along the feed, so that thousands of pieces take milliseconds.
 */
export function findClashes(pieces: readonly LaidPiece[], limits: LayoutLimits): LayoutClash[] {
  const clashes: LayoutClash[] = [];
  for (const piece of pieces) {
    const over = Math.max(
      limits.leftMm - piece.xMm,
      piece.xMm + piece.widthMm - (limits.widthMm - limits.rightMm),
      limits.leadMm - piece.yMm,
      overSheetMm(piece, limits.sheetMm ?? null),
    );
    if (over > TOLERANCE_MM) clashes.push({ kind: 'out-of-bounds', key: piece.key, overMm: over });
  }
  const order = [...pieces].sort((a, b) => a.yMm - b.yMm);
  let active: LaidPiece[] = [];
  for (const piece of order) {
    active = active.filter((other) => other.yMm + other.heightMm + limits.gapYMm > piece.yMm + TOLERANCE_MM);
    for (const other of active) {
      if (closerThan(other, piece, limits.gapXMm, limits.gapYMm, TOLERANCE_MM)) {
        clashes.push({ kind: 'pair', a: other.key, b: piece.key });
      }
    }
    active.push(piece);
  }
  return clashes;
}
