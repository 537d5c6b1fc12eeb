import type { RectMm } from '../geometry/frame.ts';
import { type Random, seededRandom } from '../random.ts';
import { FreeSpace } from './freeSpace.ts';
import { fromGrid, toGrid } from './grid.ts';
import type { NestControl, Placement } from './nest.ts';
import { type NestInput, type NestPiece, usableWidthMm } from './nestInput.ts';

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
  const copies = input.pieces.flatMap((piece) =>
    Array.from({ length: piece.copies }, (_, copy) => ({ piece, copy, area: piece.widthMm * piece.heightMm })),
  );
  const start = startOf(input, fixed);
  const spent = (steps: number): boolean => steps >= control.stepBudget || (control.shouldStop?.() ?? false);
  let best = place(input, start, [...copies].sort(ORDERS[0]));
  let steps = 1;
  tell(best.placements, steps);
  let order = best.order;
  const most = copies.length > MANY ? ORDERS.length : Infinity;
  for (; steps < most && !spent(steps) && copies.length > 1; steps++) {
    const next = ORDERS[steps] ? [...copies].sort(ORDERS[steps]) : shaken(order, random);
    const tried = place(input, start, next);
    if (tried.endMm < best.endMm - 1e-9) {
      best = tried;
      ({ order } = tried);
      tell(best.placements, steps);
    }
  }
  return { placements: best.placements, steps };
}

function startOf(input: NestInput, fixed: readonly RectMm[]): FreeSpace {
  const { margins, gapXMm, gapYMm } = input;
  const [gx, gy] = [toGrid(gapXMm), toGrid(gapYMm)];
  const space = new FreeSpace(toGrid(usableWidthMm(input)) + gx);
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

function place(input: NestInput, start: FreeSpace, order: readonly Copy[]): Packed {
  const { margins, gapXMm, gapYMm } = input;
  const [gx, gy] = [toGrid(gapXMm), toGrid(gapYMm)];
  const space = start.copy();
  const placements: Placement[] = [];
  let end = 0;
  for (const { piece, copy } of order) {
    const w = toGrid(piece.widthMm) + gx;
    const h = toGrid(piece.heightMm) + gy;
    const at = piece.held ? heldPlace(space, piece, w, h) : freePlace(space, piece, w, h);
    const size = at.turned ? { w: h - gy + gx, h: w - gx + gy } : { w, h };
    space.take({ x: at.x, y: at.y, ...size });
    end = Math.max(end, at.y + size.h - gy);
    placements.push({
      id: piece.id,
      copy,
      xMm: margins.leftMm + fromGrid(at.x),
      yMm: margins.leadMm + fromGrid(at.y),
      angleDeg: at.turned ? 90 : 0,
    });
  }
  return { placements, order, endMm: margins.leadMm + fromGrid(end) };
}

interface Spot {
  readonly x: number;
  readonly y: number;
  readonly turned: boolean;
}

/** Whichever way reaches less far; a tie keeps it upright. */
function freePlace(space: FreeSpace, piece: NestPiece, w: number, h: number): Spot {
  const upright = space.lowest(w, h);
  const gapTurn = { w: toGrid(piece.heightMm), h: toGrid(piece.widthMm) };
  const gx = w - toGrid(piece.widthMm);
  const gy = h - toGrid(piece.heightMm);
  const turned = piece.quarterTurn ? space.lowest(gapTurn.w + gx, gapTurn.h + gy) : undefined;
  if (turned && (!upright || turned.y + gapTurn.h + gy < upright.y + h)) return { ...turned, turned: true };
  if (!upright) throw new Error(`${piece.id} fits nowhere; requests are parsed before`);
  return { ...upright, turned: false };
}

function heldPlace(space: FreeSpace, piece: NestPiece, w: number, h: number): Spot {
  const x = toGrid(piece.held?.xMm ?? 0);
  const y = space.lowestAt(x, w, h, toGrid(piece.held?.beforeMm ?? 0));
  if (y === undefined) throw new Error(`${piece.id} fits nowhere; requests are parsed before`);
  return { x, y, turned: false };
}

/** A few pieces come earlier or later than before. */
function shaken(order: readonly Copy[], random: Random): Copy[] {
  const next = [...order];
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    const [moved] = next.splice(Math.floor(random() * next.length), 1);
    if (moved) next.splice(Math.floor(random() * (next.length + 1)), 0, moved);
  }
  return next;
}
