import type { SourceKind } from '../stock/form.ts';
import type { RectMm } from '../geometry/frame.ts';
import type { CutPath } from './timedRun.ts';

interface CutPiece extends RectMm {
  /** Rings that the knife follows, wherever they are: only their lengths count. */
  readonly cut: readonly (readonly { readonly x: number; readonly y: number }[])[];
}

/** What the knife does for a run: around every ring, and from piece to piece in the order of the feed. */
export function cutPathOf(pieces: readonly CutPiece[]): CutPath {
  const inOrder = [...pieces].sort((a, b) => a.yMm - b.yMm || a.xMm - b.xMm);
  let pathMm = 0;
  let travelMm = 0;
  let rings = 0;
  let at = { x: 0, y: 0 };
  for (const piece of inOrder) {
    const middle = { x: piece.xMm + piece.widthMm / 2, y: piece.yMm + piece.heightMm / 2 };
    if (piece.cut.length > 0) travelMm += Math.hypot(middle.x - at.x, middle.y - at.y);
    at = middle;
    for (const ring of piece.cut) {
      rings += 1;
      pathMm += perimeterMm(ring);
    }
  }
  return { rings, pathMm, travelMm };
}

function perimeterMm(ring: readonly { readonly x: number; readonly y: number }[]): number {
  return ring.reduce((sum, point, i) => {
    const next = ring[(i + 1) % ring.length] ?? point;
    return sum + Math.hypot(next.x - point.x, next.y - point.y);
  }, 0);
}

/** How a run on this printer is taken in sheet by sheet; undefined: from a roll in one go. */
export function sheetsOf(
  sources: readonly { readonly kind: SourceKind }[],
  sheetMm: number | null | undefined,
): { readonly lengthMm: number; readonly byHand: boolean } | undefined {
  if (sheetMm == null || sources.every(({ kind }) => kind === 'roll')) return undefined;
  return { lengthMm: sheetMm, byHand: sources.some(({ kind }) => kind === 'bed') };
}
