import { type Result, ok, refuse } from '../result.ts';
import type { RectMm } from '../geometry/frame.ts';
import { toGrid } from './grid.ts';
import type { HeldPlace } from './placeAcross.ts';

/** What is to be packed: `copies` equal rectangles; width and height include bleed and the piece's own marks. */
export interface NestPiece {
  readonly id: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly copies: number;
  readonly quarterTurn: boolean;
  /** Held at this place across the media instead of nested. */
  readonly held?: HeldPlace;
}

export interface SideMargins {
  readonly leadMm: number;
  readonly trailMm: number;
  readonly leftMm: number;
  readonly rightMm: number;
}

/** As callers say it: one gap or two, one margin or four sides. */
export interface NestRequest {
  readonly widthMm: number;
  readonly gapMm: number | { readonly x: number; readonly y: number };
  readonly marginMm: number | SideMargins;
  readonly pieces: readonly NestPiece[];
  /** Pieces that stay where they lie; the others are packed around them. */
  readonly fixed?: readonly RectMm[];
}

/** As the kernels see it: every default filled, in one place. */
export interface NestInput {
  readonly widthMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  readonly margins: SideMargins;
  readonly pieces: readonly NestPiece[];
  readonly fixed: readonly RectMm[];
}

export type NestRefusal =
  | { readonly code: 'bad-figure'; readonly field: string; readonly got: number }
  | { readonly code: 'too-wide'; readonly id: string; readonly leastWidthMm: number; readonly usableWidthMm: number }
  | { readonly code: 'too-many'; readonly got: number; readonly limit: number }
  | { readonly code: 'nothing-to-nest' };

/** More would take minutes; the caller splits the order first. */
export const MAX_NEST_PIECES = 50_000;

export function usableWidthMm(input: NestInput): number {
  return input.widthMm - input.margins.leftMm - input.margins.rightMm;
}

/**
 * Parses a request into kernel input, or says with figures why it can't be nested: a figure out of range, a piece
 * wider than the usable width in each position it may take, too many pieces, none at all.
 */
export function parseNestRequest(request: NestRequest): Result<NestInput, NestRefusal> {
  const gap = typeof request.gapMm === 'number' ? { x: request.gapMm, y: request.gapMm } : request.gapMm;
  const m = request.marginMm;
  const margins = typeof m === 'number' ? { leadMm: m, trailMm: m, leftMm: m, rightMm: m } : m;
  const input: NestInput = {
    widthMm: request.widthMm,
    gapXMm: gap.x,
    gapYMm: gap.y,
    margins,
    pieces: request.pieces.filter((piece) => piece.copies > 0),
    fixed: request.fixed ?? [],
  };
  const bad = badFigure(input);
  if (bad) return refuse(bad);
  const total = input.pieces.reduce((sum, piece) => sum + piece.copies, 0);
  if (total === 0 && input.fixed.length === 0) return refuse({ code: 'nothing-to-nest' });
  if (total > MAX_NEST_PIECES) return refuse({ code: 'too-many', got: total, limit: MAX_NEST_PIECES });
  const usable = usableWidthMm(input);
  for (const piece of input.pieces) {
    const turnable = piece.quarterTurn && !piece.held;
    const least = (turnable ? Math.min(piece.widthMm, piece.heightMm) : piece.widthMm) + (piece.held?.xMm ?? 0);
    // On the grid that the kernels count in, so that what is let in also fits.
    if (toGrid(least) > toGrid(usable)) {
      return refuse({ code: 'too-wide', id: piece.id, leastWidthMm: least, usableWidthMm: usable });
    }
  }
  return ok(input);
}

function badFigure(input: NestInput): NestRefusal | undefined {
  const figures: [string, number, number][] = [
    ['widthMm', input.widthMm, 1e-3],
    ['gapMm.x', input.gapXMm, 0],
    ['gapMm.y', input.gapYMm, 0],
    ['marginMm.leadMm', input.margins.leadMm, 0],
    ['marginMm.trailMm', input.margins.trailMm, 0],
    ['marginMm.leftMm', input.margins.leftMm, 0],
    ['marginMm.rightMm', input.margins.rightMm, 0],
    ...input.pieces.flatMap((piece): [string, number, number][] => [
      [`${piece.id}.widthMm`, piece.widthMm, 1e-3],
      [`${piece.id}.heightMm`, piece.heightMm, 1e-3],
      [`${piece.id}.copies`, piece.copies, 1],
      ...(piece.held
        ? ([
            [`${piece.id}.held.xMm`, piece.held.xMm, 0],
            [`${piece.id}.held.beforeMm`, piece.held.beforeMm, 0],
          ] satisfies [string, number, number][])
        : []),
    ]),
  ];
  const wrong = figures.find(([, value, least]) => !Number.isFinite(value) || value < least || value > 1e7);
  return wrong && { code: 'bad-figure', field: wrong[0], got: wrong[1] };
}
