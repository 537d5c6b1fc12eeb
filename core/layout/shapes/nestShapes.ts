import { boundsOf, turnedOutline } from '../../geometry/polygon.ts';
import { wrapDeg } from '../../geometry/turn.ts';
import { seededRandom } from '../../random.ts';
import { lowerBoundMm, outlineBoundMm } from '../bound.ts';
import { latticeLayouts } from './latticeLayouts.ts';
import type { NestControl, NestLayout, Placement } from '../nestLayout.ts';
import type { NestPiece } from '../nestPiece.ts';
import { type NestInput, fittingOrientations, usableWidthMm } from '../nestInput.ts';
import { ShapeBook, type Orientation } from './noFit.ts';
import { anglesOf, outlineOf } from './outlines.ts';
import { Separator } from './separator.ts';
import type { Lying } from './shapePlacer.ts';
import { type LaidShape, type ShapeItem, ShapeSearch, shapeItems } from './shapeSearch.ts';

/** Layouts that are made piece by piece before they are pressed together: those are what pressing begins with. */
const OPENING_STEPS = 4;
/** Beyond this the pieces are not laid one after another: the time is better spent on pressing what their rectangles give. */
const MOST_LAYING = 100_000;
/** How much shorter an attempt is to be at first, what becomes of that when it fails, and the least worth trying. */
const PRESS = 0.02;
const PRESS_LESS = 0.7;
const PRESS_LEAST = 0.003;

/**
 * Nests outlines on a roll, the larger gap as the clearance between them: laid one after another in several orders, then
 * pressed together again and again (see Separator). Anytime, like the nest of rectangles, which it begins with where that
 * is shorter.
 * @param rectangles nests the rectangles of the pieces
 */
export function nestShapes(
  input: NestInput,
  control: NestControl,
  rectangles: (input: NestInput, control: NestControl) => NestLayout,
): NestLayout {
  const { width, book, items, members } = shapesOf(input);
  const random = seededRandom(control.seed);
  const fixedArea = input.fixed.reduce((sum, { widthMm, heightMm }) => sum + widthMm * heightMm, 0);
  const area = items.reduce((sum, item) => sum + item.area, fixedArea);
  const fixed = stayingShapes(input, book);
  const boundMm = outlineBoundMm(input);
  const floor = boundMm - input.margins.leadMm - input.margins.trailMm;
  let best: { readonly laid: readonly LaidShape[]; readonly length: number } | undefined;
  let steps = 0;
  const layoutOf = (): NestLayout => {
    if (!best) throw new Error('the opening always lays everything once');
    const lengthMm = input.margins.leadMm + best.length + input.margins.trailMm;
    const placements = best.laid.map((shape) => placementOf(input, members[shape.item], shape));
    return { lengthMm, boundMm, utilisation: area / (input.widthMm * lengthMm), steps, placements };
  };
  const keep = (laid: readonly LaidShape[]): void => {
    const length = reachOf([...laid, ...fixed]);
    if (best && length >= best.length - 1e-9) return;
    best = { laid, length };
    control.onBetter?.(layoutOf());
  };
  const over = (): boolean => steps >= control.stepBudget || (control.shouldStop?.() ?? false);
  // Rectangles are there at once: a person sees a layout, and what is searched for may be broken off.
  const boxes = boxesOf(input);
  const spentShare = control.spentShare ?? (() => steps / control.stepBudget);
  const byBoxes = (stepBudget: number, enough: () => boolean): void => {
    if (!boxes) return;
    rectangles(boxes, {
      seed: control.seed,
      stepBudget,
      shouldStop: () => enough() || (control.shouldStop?.() ?? false),
      onBetter: (layout) => {
        const laid = asShapes(input, layout, items);
        if (laid) keep(laid);
      },
    });
  };
  const many = layingWork(items) > MOST_LAYING;
  const beyond = (share: number): boolean => best !== undefined && (over() || spentShare() > share);
  byBoxes(control.spentShare && !many ? BOX_STEPS : FEW_BOX_STEPS, () => beyond(BOX_SHARE));
  if (fixed.length === 0) {
    const share = many ? MANY_LATTICES_SHARE : LATTICES_SHARE;
    for (const laid of latticeLayouts(items, book, width, { beyond, share, intricate: many })) keep(laid);
  }
  // Many intricate pieces nest well as rectangles long before their outlines have been laid once.
  const soFar = best as { readonly length: number } | undefined;
  if (many && boxes && soFar && soFar.length + input.margins.leadMm + input.margins.trailMm > lowerBoundMm(boxes)) {
    byBoxes(MANY_BOX_STEPS, () => false);
  }
  const boxed = best !== undefined;
  const openingSteps = items.length * OPENING_STEPS;
  const hooks = {
    spent: (n: number): boolean => {
      steps = n;
      return n >= openingSteps || over();
    },
    better: keep,
  };
  if (!many || !boxed) new ShapeSearch(items, book, width, floor, random, hooks, boxed, fixed).run();
  const separator = new Separator(items, book, width, random, fixed);
  const spent = (): boolean => {
    steps += 1;
    return over();
  };
  for (let press = PRESS; best && best.length > floor * (1 + 1e-6) && !over();) {
    const laid = separator.press(best.laid, Math.max(floor, best.length * (1 - press)), spent);
    if (laid) keep(laid);
    else press = Math.max(PRESS_LEAST, press * PRESS_LESS);
  }
  return layoutOf();
}

/**
 * The nest of the rectangles takes so many steps, and where the time is known no more than this share of it; where there are
 * many intricate pieces, as many as a person would give the rectangles alone, so that the outlines don't make it longer.
 */
const BOX_STEPS = 12_000;
const FEW_BOX_STEPS = 1500;
const BOX_SHARE = 0.2;
/** Of the time, when patterns are no longer looked for; of intricate outlines they seldom come out shorter. */
const LATTICES_SHARE = 0.3;
const MANY_LATTICES_SHARE = 0.15;
const MANY_BOX_STEPS = 400_000;

/** What it takes to lay everything once: for each pair of pieces every part of one beside every part of the other. */
function layingWork(items: readonly ShapeItem[]): number {
  const parts = items.map(({ orientations }) => Math.max(0, ...orientations.map(({ lying }) => lying.length)));
  const mean = parts.reduce((sum, n) => sum + n, 0) / Math.max(1, items.length);
  return (items.length * mean) ** 2;
}

/** The pieces of a nest as shapes, the larger gap as the clearance between them; `members` says which copy each item is. */
export function shapesOf(input: NestInput): {
  readonly width: number;
  readonly book: ShapeBook;
  readonly items: ShapeItem[];
  readonly members: { readonly piece: NestPiece; readonly copy: number }[];
} {
  const width = usableWidthMm(input);
  const book = new ShapeBook(Math.max(input.gapXMm, input.gapYMm));
  const pieces = input.pieces.map((piece) => ({
    outline: outlineOf(piece),
    angles: anglesOf(piece),
    copies: piece.copies,
  }));
  const members = input.pieces.flatMap((piece) => Array.from({ length: piece.copies }, (_, copy) => ({ piece, copy })));
  return { width, book, items: shapeItems(book, pieces, width), members };
}

/** Locked pieces, by their rectangles. */
function stayingShapes({ fixed, margins }: NestInput, book: ShapeBook): Lying[] {
  return fixed.map(({ xMm, yMm, widthMm, heightMm }) => {
    const outline = outlineOf({ id: '', copies: 1, quarterTurn: false, widthMm, heightMm });
    return { orientation: book.orientationOf(outline, 0), x: xMm - margins.leftMm, y: yMm - margins.leadMm };
  });
}

function reachOf(laid: readonly Lying[]): number {
  return Math.max(...laid.map(({ y, orientation }) => y + orientation.height));
}

/** The rectangles of the pieces; undefined where one fits in no way that its piece may lie. */
export function boxesOf(input: NestInput): NestInput | undefined {
  const boxes = { ...input, pieces: input.pieces.map((piece) => ({ ...piece, outline: undefined })) };
  return boxes.pieces.some((piece) => fittingOrientations(boxes, piece).length === 0) ? undefined : boxes;
}

/** The nest of the rectangles with the outlines in them; undefined where an outline may not lie as its rectangle does. */
function asShapes(input: NestInput, { placements }: NestLayout, items: readonly ShapeItem[]): LaidShape[] | undefined {
  const at = new Map(placements.map((placement) => [`${placement.id}#${String(placement.copy)}`, placement]));
  let item = 0;
  const laid: LaidShape[] = [];
  for (const piece of input.pieces) {
    for (let copy = 0; copy < piece.copies; copy++, item++) {
      const place = at.get(`${piece.id}#${String(copy)}`);
      const orientation = items[item]?.orientations.find(({ angleDeg }) => angleDeg === place?.angleDeg);
      if (!place || !orientation) return undefined;
      const corner = boundsOf(turnedOutline(outlineOf({ ...piece, outline: undefined }), orientation.angleDeg));
      const x = place.xMm - input.margins.leftMm - corner.minX - orientation.originX;
      const y = place.yMm - input.margins.leadMm - corner.minY - orientation.originY;
      laid.push({ item, orientation, x, y });
    }
  }
  return laid;
}

/** The corner of the turned rectangle around the artwork, from where its turned outline lies. */
export function placementOf(
  input: NestInput,
  member: { readonly piece: NestPiece; readonly copy: number } | undefined,
  { x, y, orientation }: { readonly x: number; readonly y: number; readonly orientation: Orientation },
): Placement {
  if (!member) throw new Error('more pieces placed than given');
  const { piece, copy } = member;
  const corner = boundsOf(turnedOutline(outlineOf({ ...piece, outline: undefined }), orientation.angleDeg));
  return {
    id: piece.id,
    copy,
    xMm: input.margins.leftMm + x + orientation.originX + corner.minX,
    yMm: input.margins.leadMm + y + orientation.originY + corner.minY,
    angleDeg: wrapDeg(orientation.angleDeg),
  };
}
