import type { RectMm } from '../../geometry/frame.ts';
import { type Random, seededRandom } from '../../random.ts';
import { FreeSpace, type GridRect } from './freeSpace.ts';
import { fromGrid, toGrid } from './grid.ts';
import type { NestControl, Placement } from '../nestLayout.ts';
import type { NestPiece } from '../nestPiece.ts';
import { type NestInput, fittingOrientations, usableLengthMm, usableWidthMm } from '../nestInput.ts';

interface Copy {
  readonly piece: NestPiece;
  readonly copy: number;
  readonly area: number;
}

type Order = (a: Copy, b: Copy) => number;
const side = (c: Copy, pick: (a: number, b: number) => number): number => pick(c.piece.widthMm, c.piece.heightMm);
const ORDERS: readonly Order[] = [
  (a, b) => b.area - a.area,
  (a, b) => side(b, Math.max) - side(a, Math.max),
  (a, b) => b.piece.heightMm - a.piece.heightMm,
  (a, b) => b.piece.widthMm - a.piece.widthMm,
];

/** Bottom-left packings cost little up to so many pieces; of more, only the first orders are tried. */
const MANY = 1500;

/**
 * Packs pieces around others that stay where they are: each in turn at the free place nearest the leading edge, in several
 * orders and then in orders shaken at random, as long as it may take.
 * @param fixed pieces that stay (mm, frame of the run); x counts like that of placements
 * @param tell told of each better packing
 * @returns the places of the pieces that are not fixed
 */
export function packAround(
  input: NestInput,
  fixed: readonly RectMm[],
  control: NestControl,
  tell: (placements: readonly Placement[], steps: number) => void,
): { readonly placements: readonly Placement[]; readonly steps: number } {
  const random = seededRandom(control.seed);
  const inGroups = input.order === 'groups';
  const group = ({ piece }: Copy): number => (inGroups ? (piece.group ?? 0) : 0);
  const ordered = (order: Order | undefined): Copy[] =>
    [...copies].sort((a, b) => group(a) - group(b) || (order?.(a, b) ?? 0));
  const copies = input.pieces.flatMap((piece) =>
    Array.from({ length: piece.copies }, (_, copy) => ({ piece, copy, area: piece.widthMm * piece.heightMm })),
  );
  const start = startOf(input, fixed);
  const spent = (steps: number): boolean => steps >= control.stepBudget || (control.shouldStop?.() ?? false);
  let best = place(input, start, input.order === 'given' ? copies : ordered(ORDERS[0]));
  let steps = 1;
  tell(best.placements, steps);
  let order = best.order;
  const most = input.order === 'given' ? 1 : copies.length > MANY ? ORDERS.length : Infinity;
  for (; steps < most && !spent(steps) && copies.length > 1; steps++) {
    const next = ORDERS[steps] ? ordered(ORDERS[steps]) : shaken(order, random, group);
    const tried = place(input, start, next);
    if (tried.endMm < best.endMm - 1e-9) {
      best = tried;
      ({ order } = tried);
      tell(best.placements, steps);
    }
  }
  return { placements: best.placements, steps };
}

/** The free space before anything is placed: the media, or as many sheets as can be needed, less what stays where it is. */
function startOf(input: NestInput, fixed: readonly RectMm[]): FreeSpace {
  const { margins, gapXMm, gapYMm, sheetMm } = input;
  const [gx, gy] = [toGrid(gapXMm), toGrid(gapYMm)];
  const width = toGrid(usableWidthMm(input)) + gx;
  const sheet = sheetMm === null ? undefined : { every: toGrid(sheetMm), length: toGrid(usableLengthMm(input)) + gy };
  // One sheet a piece is the most that can be needed, beside those that hold what stays.
  const fixedEnd = fixed.reduce((most, { yMm, heightMm }) => Math.max(most, toGrid(yMm + heightMm)), 0);
  const copies = input.pieces.reduce((sum, piece) => sum + piece.copies, 0);
  const sheets = sheet ? Math.ceil(fixedEnd / sheet.every) + copies : 1;
  const space = new FreeSpace(
    Array.from({ length: sheets }, (_, k) => ({
      x: 0,
      y: sheet ? k * sheet.every : 0,
      w: width,
      h: sheet ? sheet.length : Infinity,
    })),
  );
  for (const { xMm, yMm, widthMm, heightMm } of fixed) {
    // What lies before it owes it a gap too: pieces bring theirs to the right and behind only.
    const x = toGrid(xMm - margins.leftMm);
    const y = toGrid(yMm - margins.leadMm);
    space.take({ x, y, w: toGrid(widthMm) + gx, h: toGrid(heightMm) + gy });
  }
  return space;
}

interface Packed {
  readonly placements: Placement[];
  readonly order: readonly Copy[];
  readonly endMm: number;
}

/** Places copies in this order, each where it ends lowest. Every copy finds a place: the media has no end, and sheets are enough. */
function place(input: NestInput, start: FreeSpace, order: readonly Copy[]): Packed {
  const { margins, gapXMm, gapYMm } = input;
  const [gx, gy] = [toGrid(gapXMm), toGrid(gapYMm)];
  const space = start.copy();
  const placements: Placement[] = [];
  let end = 0;
  for (const { piece, copy } of order) {
    const at = piece.held ? heldPlace(space, input, piece, gx, gy) : freePlace(space, input, piece, gx, gy);
    space.take(at.rect);
    end = Math.max(end, at.rect.y + at.rect.h - gy);
    placements.push({
      id: piece.id,
      copy,
      xMm: margins.leftMm + fromGrid(at.rect.x),
      yMm: margins.leadMm + fromGrid(at.rect.y),
      angleDeg: at.angleDeg,
    });
  }
  return { placements, order, endMm: margins.leadMm + fromGrid(end) };
}

interface Spot {
  readonly rect: GridRect;
  readonly angleDeg: number;
}

/** Whichever way reaches less far; a tie keeps it upright. */
function freePlace(space: FreeSpace, input: NestInput, piece: NestPiece, gx: number, gy: number): Spot {
  let best: Spot | undefined;
  for (const { angleDeg, widthMm, heightMm } of fittingOrientations(input, piece)) {
    const [w, h] = [toGrid(widthMm) + gx, toGrid(heightMm) + gy];
    const at = space.lowest(w, h);
    if (at && (!best || at.y + h < best.rect.y + best.rect.h)) best = { rect: { ...at, w, h }, angleDeg };
  }
  if (!best) throw new Error(`${piece.id} fits nowhere; requests are parsed before`);
  return best;
}

function heldPlace(space: FreeSpace, input: NestInput, piece: NestPiece, gx: number, gy: number): Spot {
  const [w, h] = [toGrid(piece.widthMm) + gx, toGrid(piece.heightMm) + gy];
  const x = toGrid(piece.held?.xMm ?? 0);
  const every = input.sheetMm === null ? Infinity : toGrid(input.sheetMm);
  const y = space.lowestAt(x, w, h, toGrid(piece.held?.beforeMm ?? 0), every);
  if (y === undefined) throw new Error(`${piece.id} fits nowhere; requests are parsed before`);
  return { rect: { x, y, w, h }, angleDeg: 0 };
}

/** A few pieces come earlier or later than before, within their groups. */
function shaken(order: readonly Copy[], random: Random, group: (copy: Copy) => number): Copy[] {
  const next = [...order];
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    const from = Math.floor(random() * next.length);
    const to = Math.floor(random() * next.length);
    const [a, b] = [next[from], next[to]];
    if (!a || !b || group(a) !== group(b)) continue;
    next.splice(from, 1);
    next.splice(to, 0, a);
  }
  return next;
}
