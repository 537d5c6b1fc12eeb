import { type Result, ok, refuse } from '../result.ts';
import type { RectMm } from '../geometry/frame.ts';
import { type Orientation, orientationsOf } from './orientations.ts';
import { type Outline, boundsOf } from '../geometry/polygon.ts';
import { toGrid } from './pack/grid.ts';
import { isSimple, leastLengthMm, leastWidthMm, partsAreaMm2 } from './shapes/outlines.ts';
import { type PlaceSize, type SheetPlaces, placeSize, orientationIn } from './sheets/sheetPlaces.ts';
import type { NestPiece } from './nestPiece.ts';

/**
 * What comes first on the media: *free* leaves it to the nest; *groups*: in every column, no piece of a later group lies
 * before one of an earlier group; *given*: rows in the order in which the pieces are said.
 */
export const PRINT_ORDERS = ['free', 'groups', 'given'] as const;
export type PrintOrder = (typeof PRINT_ORDERS)[number];

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
  readonly order?: PrintOrder;
  /** Every piece can be cut free by cuts that go straight through what is left. */
  readonly straightCuts?: boolean;
  /** Length of a sheet; lead and trail margins count on each. Left out: a roll. */
  readonly sheetMm?: number;
  /** Every sheet is parted into places that are filled in order, instead of a nest. */
  readonly places?: SheetPlaces;
}

/** As the kernels see it: every default filled, in one place. */
export interface NestInput {
  readonly widthMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  readonly margins: SideMargins;
  readonly pieces: readonly NestPiece[];
  readonly fixed: readonly RectMm[];
  readonly order: PrintOrder;
  readonly straightCuts: boolean;
  readonly sheetMm: number | null;
  readonly places: SheetPlaces | null;
}

/** Why a nest can’t be asked like this, with the figures that a person needs to ask otherwise. */
export type NestRefusal =
  | {
      readonly code: 'bad-figure';
      readonly field: string;
      readonly got: number;
      readonly least: number;
      readonly most: number;
    }
  | { readonly code: 'too-wide'; readonly id: string; readonly leastWidthMm: number; readonly usableWidthMm: number }
  | { readonly code: 'too-long'; readonly id: string; readonly leastLengthMm: number; readonly usableLengthMm: number }
  | { readonly code: 'bad-outline'; readonly id: string }
  | { readonly code: 'not-with-outlines'; readonly what: string }
  | { readonly code: 'too-many'; readonly got: number; readonly limit: number }
  | { readonly code: 'nothing-to-nest' }
  | { readonly code: 'places-need-sheets' }
  | {
      readonly code: 'too-large-for-place';
      readonly id: string;
      readonly widthMm: number;
      readonly heightMm: number;
      readonly placeWidthMm: number;
      readonly placeHeightMm: number;
    };

/** More would take minutes; the caller splits the order first. */
export const MAX_NEST_PIECES = 50_000;

/** Width of the media between its side margins (mm). */
export function usableWidthMm(input: NestInput): number {
  return input.widthMm - input.margins.leftMm - input.margins.rightMm;
}

/** Length of a sheet between its margins; endless on a roll. */
export function usableLengthMm({ sheetMm, margins }: NestInput): number {
  return sheetMm === null ? Infinity : sheetMm - margins.leadMm - margins.trailMm;
}

/** Of a sheet that is parted into places. */
export function inputPlaceSize(input: NestInput, places: SheetPlaces): PlaceSize {
  const usable = { widthMm: usableWidthMm(input), lengthMm: usableLengthMm(input) };
  return placeSize(usable, { xMm: input.gapXMm, yMm: input.gapYMm }, places);
}

/** What is held at a place is never turned. */
export function nestOrientations(piece: NestPiece): readonly Orientation[] {
  return orientationsOf(piece.held ? { ...piece, quarterTurn: false, grain: 'free' } : piece);
}

/** The ways that fit between the margins, on the grid that the kernels count in, so that what is let in also fits. */
export function fittingOrientations(input: NestInput, piece: NestPiece): readonly Orientation[] {
  const room = { across: toGrid(usableWidthMm(input)), along: usableLengthMm(input) };
  return nestOrientations(piece).filter(
    ({ widthMm, heightMm }) =>
      toGrid(widthMm + (piece.held?.xMm ?? 0)) <= room.across &&
      (room.along === Infinity || toGrid(heightMm + (piece.held?.beforeMm ?? 0)) <= toGrid(room.along)),
  );
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
    order: request.order ?? 'free',
    straightCuts: request.straightCuts ?? false,
    sheetMm: request.sheetMm ?? null,
    places: request.places ?? null,
  };
  const bad = badFigure(input);
  if (bad) return refuse(bad);
  const total = input.pieces.reduce((sum, piece) => sum + piece.copies, 0);
  if (total === 0 && input.fixed.length === 0) return refuse({ code: 'nothing-to-nest' });
  if (total > MAX_NEST_PIECES) return refuse({ code: 'too-many', got: total, limit: MAX_NEST_PIECES });
  if (input.places) return parsePlaces(input, input.places);
  const shaped = input.pieces.some((piece) => piece.outline !== undefined);
  if (shaped) return parseOutlines(input);
  for (const piece of input.pieces) {
    const refusal = fittingOrientations(input, piece).length === 0 ? tooLarge(input, piece) : undefined;
    if (refusal) return refuse(refusal);
  }
  return ok(input);
}

/** In places every piece is its rectangle; the place is as wide and long as the margins and gaps leave it. */
function parsePlaces(input: NestInput, places: SheetPlaces): Result<NestInput, NestRefusal> {
  if (input.sheetMm === null) return refuse({ code: 'places-need-sheets' });
  const size = inputPlaceSize(input, places);
  for (const piece of input.pieces) {
    if (orientationIn(nestOrientations(piece), size)) continue;
    const { id, widthMm, heightMm } = piece;
    const { widthMm: placeWidthMm, heightMm: placeHeightMm } = size;
    return refuse({ code: 'too-large-for-place', id, widthMm, heightMm, placeWidthMm, placeHeightMm });
  }
  return ok(input);
}

/** Contours are nested on a roll, around what is locked, or on sheets; what else can be asked of rectangles is refused by its name. */
function parseOutlines(input: NestInput): Result<NestInput, NestRefusal> {
  const asked: [boolean, string][] = [
    [input.straightCuts, 'straight cuts'],
    [input.order !== 'free', 'an order'],
    [input.fixed.length > 0 && input.sheetMm !== null, 'locked pieces on sheets'],
    [input.pieces.some((piece) => piece.held !== undefined), 'a place across the media'],
    [input.pieces.some((piece) => piece.together === true), 'copies together'],
  ];
  const what = asked.find(([is]) => is)?.[1];
  if (what !== undefined) return refuse({ code: 'not-with-outlines', what });
  for (const piece of input.pieces) {
    const { id, outline, widthMm, heightMm } = piece;
    if (outline && !isOutline(outline, widthMm, heightMm)) return refuse({ code: 'bad-outline', id });
    const leastWidth = leastWidthMm(piece);
    const usable = usableWidthMm(input);
    if (leastWidth > usable + 1e-6)
      return refuse({ code: 'too-wide', id, leastWidthMm: leastWidth, usableWidthMm: usable });
    const leastLength = leastLengthMm(piece, usable);
    const usableLength = usableLengthMm(input);
    if (leastLength > usableLength + 1e-6)
      return refuse({ code: 'too-long', id, leastLengthMm: leastLength, usableLengthMm: usableLength });
  }
  return ok(input);
}

/** Three points or more within the piece, that don't cross each other's lines. */
function isOutline(outline: Outline, widthMm: number, heightMm: number): boolean {
  if (outline.length < 3 || outline.some(({ x, y }) => !Number.isFinite(x) || !Number.isFinite(y))) return false;
  const { minX, minY, maxX, maxY } = boundsOf(outline);
  if (minX < -1e-3 || minY < -1e-3 || maxX > widthMm + 1e-3 || maxY > heightMm + 1e-3) return false;
  return isSimple(outline, partsAreaMm2(outline));
}

/** Too wide where it is so in every way; else every way that is narrow enough is too long for the sheet. */
function tooLarge(input: NestInput, piece: NestPiece): NestRefusal {
  const usable = usableWidthMm(input);
  const aside = piece.held?.xMm ?? 0;
  const orientations = nestOrientations(piece);
  const narrow = orientations.filter(({ widthMm }) => toGrid(widthMm + aside) <= toGrid(usable));
  if (narrow.length === 0) {
    const leastWidthMm = Math.min(...orientations.map(({ widthMm }) => widthMm)) + aside;
    return { code: 'too-wide', id: piece.id, leastWidthMm, usableWidthMm: usable };
  }
  const leastLengthMm = Math.min(...narrow.map(({ heightMm }) => heightMm)) + (piece.held?.beforeMm ?? 0);
  return { code: 'too-long', id: piece.id, leastLengthMm, usableLengthMm: usableLengthMm(input) };
}

/** No length and no count is larger. */
const MOST_FIGURE = 1e7;

/** The first figure that is no number or too small; names the field as the request has it. */
function badFigure(input: NestInput): NestRefusal | undefined {
  const figures: [string, number, number][] = [
    ['widthMm', input.widthMm, 1e-3],
    ['sheetMm', input.sheetMm ?? 1, 1e-3],
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
  const wrong = figures.find(([, value, least]) => !Number.isFinite(value) || value < least || value > MOST_FIGURE);
  return wrong && { code: 'bad-figure', field: wrong[0], got: wrong[1], least: wrong[2], most: MOST_FIGURE };
}
