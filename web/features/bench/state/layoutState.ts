import { sideText, sizeText } from '../../../ui/text/lengths.ts';
import type { LayoutChange, LayoutSettings, RunPiece } from '../../../../contract/api/run.ts';
import type { Corners } from '../../../../core/layout/arrange/byHand.ts';
import { turnedSize, wrapDeg } from '../../../../core/geometry/turn.ts';
import { laidOutline } from '../../../../core/geometry/laidOutline.ts';
import { type LaidPiece, extentOf } from '../../../../core/layout/checkLayout.ts';
import type { NestRefusal } from '../../../../core/layout/nestInput.ts';
import { type RunNest, runNest } from '../../../../core/layout/runNest.ts';
import type { Result } from '../../../../core/result.ts';
import type { RunDetail } from '../../../api/data.ts';

export interface Place {
  readonly xMm: number;
  readonly yMm: number;
  /** Counter-clockwise; the corner is that of the turned piece. */
  readonly angleDeg: number;
  /** Stays when the rest is nested again. */
  readonly locked?: boolean;
}

/** What the Bench edits; everything else of a run is read only. Places are missing until a piece has been laid out. */
export interface Layout {
  readonly settings: LayoutSettings;
  readonly places: ReadonlyMap<string, Place>;
}

export interface LayoutState {
  readonly now: Layout;
  readonly past: readonly Layout[];
  readonly future: readonly Layout[];
  /** Counts changes worth keeping, so that saving knows when there is something new. */
  readonly version: number;
}

/** What can happen to a layout. Only `arrange` and `settle` are steps that can be undone. */
export type LayoutAction =
  /** A whole new arrangement: from a nest, or settings changed by hand. */
  | { readonly kind: 'arrange'; readonly layout: Layout }
  /** A nest in progress or a drag under way: shown, not yet a step to undo. */
  | { readonly kind: 'preview'; readonly places: ReadonlyMap<string, Place> }
  /** The end of what previews began. `from` is what undo goes back to. */
  | { readonly kind: 'settle'; readonly from: Layout; readonly places: ReadonlyMap<string, Place> }
  | { readonly kind: 'undo' }
  | { readonly kind: 'redo' };

const KEPT = 200;

/**
 * The steps of a layout, with undo and redo. A preview is shown without being a step; the settle at its end is one.
 */
export function layoutReducer(state: LayoutState, action: LayoutAction): LayoutState {
  const step = (from: Layout, now: Layout): LayoutState => ({
    now,
    past: [...state.past, from].slice(-KEPT),
    future: [],
    version: state.version + 1,
  });
  switch (action.kind) {
    case 'arrange':
      return step(state.now, action.layout);
    case 'preview':
      return { ...state, now: { ...state.now, places: action.places } };
    case 'settle':
      return step(action.from, { ...state.now, places: action.places });
    case 'undo': {
      const before = state.past[state.past.length - 1];
      if (!before) return state;
      return {
        now: before,
        past: state.past.slice(0, -1),
        future: [state.now, ...state.future],
        version: state.version + 1,
      };
    }
    case 'redo': {
      const [after, ...future] = state.future;
      if (!after) return state;
      return { now: after, past: [...state.past, state.now], future, version: state.version + 1 };
    }
  }
}

/** The layout that the server has. */
export function layoutOf(run: Pick<RunDetail, 'pieces' | 'settings'>): Layout {
  const placed = run.pieces.filter((piece) => piece.placed);
  return {
    settings: run.settings,
    places: new Map(
      placed.map(({ pieceId, xMm, yMm, angleDeg, locked }) => [
        pieceId,
        { xMm, yMm, angleDeg, ...(locked ? { locked } : {}) },
      ]),
    ),
  };
}

/** The layout as it is sent to the server. */
export function changeOf(layout: Layout): LayoutChange {
  return {
    settings: layout.settings,
    placements: [...layout.places].map(([pieceId, place]) => ({ pieceId, ...place })),
  };
}

/** What a piece is cut along; undefined: its rectangle. */
export function contourOf(
  { contours }: Pick<RunDetail, 'contours'>,
  { contour }: Pick<RunPiece, 'contour'>,
): RunDetail['contours'][string] | undefined {
  return contour === null ? undefined : contours[contour];
}

/** Size as it lies. */
export function laidSize(piece: RunPiece, angleDeg: number): { widthMm: number; heightMm: number } {
  return turnedSize(piece.widthMm, piece.heightMm, angleDeg);
}

/** What is said of a piece that doesn't stand upright. */
export function angleText(angleDeg: number): string {
  if (angleDeg === 0) return '';
  return angleDeg === 90 ? ', turned' : `, turned by ${String(Math.round(angleDeg * 100) / 100)}°`;
}

/** Pieces that have a place, as figures and checks take them. On the back of a run contours are mirrored. */
export function laidPieces(
  run: Pick<RunDetail, 'pieces' | 'contours'>,
  places: ReadonlyMap<string, Place>,
  mirrored = false,
): LaidPiece[] {
  return run.pieces.flatMap((piece) => {
    const place = places.get(piece.pieceId);
    if (!place) return [];
    const { xMm, yMm, angleDeg } = place;
    const laid = { key: piece.pieceId, xMm, yMm, ...laidSize(piece, angleDeg) };
    const contour = contourOf(run, piece);
    return [contour ? { ...laid, outline: laidOutline(contour.outline, piece, place, mirrored) } : laid];
  });
}

/** Places of the pieces that stay when the rest is nested. */
export function lockedPlaces(places: ReadonlyMap<string, Place>): Map<string, Place> {
  return new Map([...places].filter(([, place]) => place.locked === true));
}

/** Locks pieces where they lie, or lets them go. */
export function withLock(
  places: ReadonlyMap<string, Place>,
  keys: Iterable<string>,
  locked: boolean,
): Map<string, Place> {
  const next = new Map(places);
  for (const key of keys) {
    const place = next.get(key);
    if (place)
      next.set(key, locked ? { ...place, locked } : { xMm: place.xMm, yMm: place.yMm, angleDeg: place.angleDeg });
  }
  return next;
}

/** Pieces at new corners; each keeps its turn. */
export function atCorners(places: ReadonlyMap<string, Place>, corners: Corners): Map<string, Place> {
  const next = new Map(places);
  for (const [key, { xMm, yMm }] of corners) {
    const place = next.get(key);
    if (place) next.set(key, { ...place, xMm: tidy(xMm), yMm: tidy(yMm) });
  }
  return next;
}

/** The run as a nesting problem, around what is locked. */
export function nestOf(
  run: Pick<RunDetail, 'pieces' | 'contours' | 'registeredEdge'>,
  settings: LayoutSettings,
  usableWidthMm: number,
  places: ReadonlyMap<string, Place>,
): Result<RunNest, NestRefusal> {
  const locked = lockedPlaces(places);
  return runNest(
    run.pieces
      .filter((piece) => !locked.has(piece.pieceId))
      .map((piece) => ({ ...piece, outline: contourOf(run, piece)?.outline })),
    settings,
    usableWidthMm,
    run.registeredEdge,
    laidPieces(run, locked).map(extentOf),
  );
}

/** Why a run can’t be nested, with its figures and what would help. */
export function refusalText(run: RunDetail, reason: NestRefusal): string {
  switch (reason.code) {
    case 'too-wide': {
      const name = run.pieces.find((piece) => piece.pieceId === reason.id)?.sourceName ?? 'A piece';
      return `${name} is wider than the usable width: ${sideText(reason.leastWidthMm)} of ${sideText(reason.usableWidthMm)}. Allow quarter turns, or make the side margins smaller.`;
    }
    case 'too-long': {
      const name = run.pieces.find((piece) => piece.pieceId === reason.id)?.sourceName ?? 'A piece';
      return `${name} is longer than a sheet between its margins: ${sideText(reason.leastLengthMm)} of ${sideText(reason.usableLengthMm)}. Allow quarter turns, or make the margins smaller.`;
    }
    case 'too-many':
      return `${String(reason.got)} pieces are more than one nest takes (${String(reason.limit)}). Split the order.`;
    case 'bad-outline':
      return 'A contour crosses itself.';
    case 'not-with-outlines':
      return `Contours can't be nested with ${reason.what} yet.`;
    case 'places-need-sheets':
      return 'Places are those of sheets. Lay it out on sheets.';
    case 'too-large-for-place': {
      const name = run.pieces.find((piece) => piece.pieceId === reason.id)?.sourceName ?? 'A piece';
      return `${name} is larger than a place: ${sizeText(reason.widthMm, reason.heightMm)} of ${sizeText(reason.placeWidthMm, reason.placeHeightMm)}. Take fewer columns or rows.`;
    }
    case 'bad-figure':
      return `${reason.field} can't be ${String(reason.got)}.`;
    case 'nothing-to-nest':
      return 'This run has no pieces.';
  }
}

/** Moves pieces by an amount; the piece keeps its turn. */
export function movedPlaces(
  places: ReadonlyMap<string, Place>,
  keys: Iterable<string>,
  dxMm: number,
  dyMm: number,
): Map<string, Place> {
  const next = new Map(places);
  for (const key of keys) {
    const place = next.get(key);
    if (place) next.set(key, { ...place, xMm: tidy(place.xMm + dxMm), yMm: tidy(place.yMm + dyMm) });
  }
  return next;
}

function tidy(mm: number): number {
  return Math.round(mm * 1e4) / 1e4;
}

/** Turns each piece about its own middle. */
export function turnedPlaces(
  run: RunDetail,
  places: ReadonlyMap<string, Place>,
  keys: ReadonlySet<string>,
  byDeg = 90,
): Map<string, Place> {
  const next = new Map(places);
  for (const piece of run.pieces) {
    const place = keys.has(piece.pieceId) ? next.get(piece.pieceId) : undefined;
    if (!place) continue;
    const angleDeg = wrapDeg(place.angleDeg + byDeg);
    const was = laidSize(piece, place.angleDeg);
    const will = laidSize(piece, angleDeg);
    next.set(piece.pieceId, {
      ...place,
      angleDeg,
      xMm: tidy(place.xMm + (was.widthMm - will.widthMm) / 2),
      yMm: tidy(place.yMm + (was.heightMm - will.heightMm) / 2),
    });
  }
  return next;
}
