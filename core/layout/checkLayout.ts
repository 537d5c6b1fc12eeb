import type { SideReach } from './usableWidth.ts';
import { type RectMm, closerThan } from '../geometry/frame.ts';
import { type Outline, boundsOf } from '../geometry/polygon.ts';
import { outlinesCloser } from './shapes/clearance.ts';

/** A piece as it lies: turning is already in its width and height. */
export interface LaidPiece extends RectMm {
  readonly key: string;
  /** As it lies: it is judged by this instead of its rectangle. */
  readonly outline?: Outline | undefined;
}

/** The rectangle that a piece takes as it lies: around its outline where it has one. */
export function extentOf(piece: LaidPiece): RectMm {
  if (!piece.outline) {
    const { xMm, yMm, widthMm, heightMm } = piece;
    return { xMm, yMm, widthMm, heightMm };
  }
  const { minX, minY, maxX, maxY } = boundsOf(piece.outline);
  return { xMm: minX, yMm: minY, widthMm: maxX - minX, heightMm: maxY - minY };
}

function outlineOf({ outline, xMm, yMm, widthMm, heightMm }: LaidPiece): Outline {
  if (outline) return outline;
  const [x2, y2] = [xMm + widthMm, yMm + heightMm];
  return [
    { x: xMm, y: yMm },
    { x: x2, y: yMm },
    { x: x2, y: y2 },
    { x: xMm, y: y2 },
  ];
}

function tooClose(a: LaidPiece, b: LaidPiece, gapXMm: number, gapYMm: number): boolean {
  if (!a.outline && !b.outline) return closerThan(a, b, gapXMm, gapYMm, TOLERANCE_MM);
  return outlinesCloser(outlineOf(a), outlineOf(b), Math.max(gapXMm, gapYMm));
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
  /** What is wider than the media may reach so far over its edges; nothing else lies there. In the width already. */
  readonly over?: SideReach;
  /** Nothing may lie across the end of a sheet. */
  readonly sheetMm?: number | null | undefined;
}

const TOLERANCE_MM = 1e-3;
/** Outlines are turned by cosines; the nest keeps them to this (mm). */
const OUTLINE_TOLERANCE_MM = 0.01;

/** How far from the ends of the width a piece has to stay. */
function edgesFor({ widthMm }: RectMm, { widthMm: wholeMm, leftMm, rightMm, over }: LayoutLimits): SideReach {
  if (!over || widthMm > wholeMm - over.leftMm - over.rightMm + TOLERANCE_MM) return { leftMm, rightMm };
  return { leftMm: leftMm + over.leftMm, rightMm: rightMm + over.rightMm };
}

/** How far a piece reaches over the end of the sheet on which it begins. */
function overSheetMm({ yMm, heightMm }: RectMm, sheetMm: number | null): number {
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
  const all = pieces.map((piece) => ({ piece, taken: extentOf(piece) }));
  for (const { piece, taken } of all) {
    const { leftMm, rightMm } = edgesFor(taken, limits);
    const over = Math.max(
      leftMm - taken.xMm,
      taken.xMm + taken.widthMm - (limits.widthMm - rightMm),
      limits.leadMm - taken.yMm,
      overSheetMm(taken, limits.sheetMm ?? null),
    );
    if (over > (piece.outline ? OUTLINE_TOLERANCE_MM : TOLERANCE_MM))
      clashes.push({ kind: 'out-of-bounds', key: piece.key, overMm: over });
  }
  const gap = Math.max(limits.gapXMm, limits.gapYMm);
  const order = all.sort((a, b) => a.taken.yMm - b.taken.yMm);
  let active: typeof all = [];
  for (const one of order) {
    const { piece, taken } = one;
    active = active.filter((other) => other.taken.yMm + other.taken.heightMm + gap > taken.yMm + TOLERANCE_MM);
    for (const other of active) {
      if (!closerThan(other.taken, taken, gap, gap, TOLERANCE_MM)) continue;
      if (tooClose(other.piece, piece, limits.gapXMm, limits.gapYMm)) {
        clashes.push({ kind: 'pair', a: other.piece.key, b: piece.key });
      }
    }
    active.push(one);
  }
  return clashes;
}
