import { type Result, ok, refuse } from '../../result.ts';
import { type Orientation, type Turning, orientationsOf } from '../orientations.ts';
import { neededExtentMm, piecesThatFit, runsForOrder } from './stepAndRepeat.ts';

/** What one segment may take: the usable width, and H, the free-hang length less margins, marks and the end cut. */
export interface SegmentRoom {
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
}

export interface SegmentPlan {
  readonly columns: number;
  readonly rows: number;
  readonly turned: boolean;
  readonly perRun: number;
  /** Length of the rows of a full segment, without margins. */
  readonly extentMm: number;
}

export type SegmentRefusal =
  | { readonly code: 'too-wide'; readonly leastMm: number; readonly roomMm: number }
  | { readonly code: 'too-long'; readonly leastMm: number; readonly roomMm: number };

/**
 * How pieces of one size lie in segments: both orientations are tried, more pieces for the length that they use wins, on a
 * tie the one that feeds less.
 * @param mostPieces so many a segment at most; null: as many as it takes
 * @returns the plan, or with figures why not one piece fits
 */
export function planSegment(
  piece: Turning,
  room: SegmentRoom,
  mostPieces: number | null = null,
): Result<SegmentPlan, SegmentRefusal> {
  const orientations = waysOf(piece);
  const plans = plansOf(orientations, room, mostPieces ?? Infinity);
  const [first, ...others] = plans;
  if (!first) return refuse(whyNone(orientations, room));
  return ok(others.reduce((best, plan) => (isDenser(plan, best) ? plan : best), first));
}

/** How the last segment of an order lies: the way that feeds least for the few pieces that it holds. */
export function planLast(count: number, piece: Turning, room: SegmentRoom, plan: SegmentPlan): SegmentPlan {
  const others = plansOf(waysOf(piece), room, count).filter(({ perRun }) => perRun === count);
  const least = Math.min(...others.map(({ extentMm }) => extentMm));
  const shortest = others.filter(({ extentMm }) => extentMm < least + SAME);
  // As the others lie, where that makes no difference.
  return shortest.find(({ turned }) => turned === plan.turned) ?? shortest[0] ?? plan;
}

function waysOf(piece: Turning): readonly [Orientation, ...Orientation[]] {
  const square = piece.widthMm === piece.heightMm;
  return orientationsOf(square ? { ...piece, quarterTurn: false } : piece);
}

function plansOf(orientations: readonly Orientation[], room: SegmentRoom, most: number): SegmentPlan[] {
  return orientations.map((orientation) => planOneWay(orientation, room, most)).filter((plan) => plan.perRun > 0);
}

function planOneWay({ angleDeg, widthMm: w, heightMm: h }: Orientation, room: SegmentRoom, most: number): SegmentPlan {
  const columns = Math.min(most, piecesThatFit(room.widthMm, w, room.gapXMm));
  const fitting = columns > 0 ? piecesThatFit(room.lengthMm, h, room.gapYMm) : 0;
  const rows = Math.min(fitting, columns > 0 ? Math.ceil(most / columns) : 0);
  const extentMm = neededExtentMm(rows, h, room.gapYMm);
  return { columns, rows, turned: angleDeg === 90, perRun: Math.min(most, columns * rows), extentMm };
}

const SAME = 1e-9;

function isDenser(plan: SegmentPlan, than: SegmentPlan): boolean {
  const difference = plan.perRun / plan.extentMm - than.perRun / than.extentMm;
  return Math.abs(difference) > SAME ? difference > 0 : plan.extentMm < than.extentMm;
}

function whyNone(orientations: readonly Orientation[], room: SegmentRoom): SegmentRefusal {
  const narrow = orientations.filter(({ widthMm }) => widthMm <= room.widthMm);
  if (narrow.length === 0) {
    const leastMm = Math.min(...orientations.map(({ widthMm }) => widthMm));
    return { code: 'too-wide', leastMm, roomMm: room.widthMm };
  }
  // Of the ways that fit across, the shorter one.
  return { code: 'too-long', leastMm: Math.min(...narrow.map(({ heightMm }) => heightMm)), roomMm: room.lengthMm };
}

export interface SegmentPlace {
  readonly xMm: number;
  readonly yMm: number;
  readonly angleDeg: number;
}

export interface SizeGroup<P> extends Turning {
  readonly pieces: readonly P[];
}

/** Pieces of one size that may be turned alike go together; each group has segments of its own. */
export function groupsBySize<P extends Turning>(pieces: readonly P[], quarterTurns: boolean): SizeGroup<P>[] {
  const groups = new Map<string, { readonly first: P; readonly pieces: P[] }>();
  for (const piece of pieces) {
    const { widthMm, heightMm, quarterTurn, grain = 'free' } = piece;
    const key = `${widthMm.toFixed(3)}×${heightMm.toFixed(3)} ${String(quarterTurn)} ${grain}`;
    const group = groups.get(key);
    if (group) group.pieces.push(piece);
    else groups.set(key, { first: piece, pieces: [piece] });
  }
  return [...groups.values()].map(({ first: { widthMm, heightMm, quarterTurn, grain = 'free' }, pieces: same }) => ({
    widthMm,
    heightMm,
    quarterTurn: quarterTurn && quarterTurns,
    grain,
    pieces: same,
  }));
}

/**
 * The segments of an order of so many pieces, each as its places in the order of printing: rows along the feed, filled
 * across. The last one holds the rest, lies the way that feeds least, and is no longer than that needs.
 * @param margins before the first row and at the left of each
 */
export function segmentPlaces(
  quantity: number,
  piece: Turning,
  plan: SegmentPlan,
  room: SegmentRoom,
  margins: { readonly leadMm: number; readonly leftMm: number },
): SegmentPlace[][] {
  const { runs, last } = runsForOrder(quantity, plan.perRun);
  const lastPlan = last === plan.perRun ? plan : planLast(last, piece, room, plan);
  return Array.from({ length: runs }, (_, run) => {
    const { turned, columns } = run === runs - 1 ? lastPlan : plan;
    const [w, h] = turned ? [piece.heightMm, piece.widthMm] : [piece.widthMm, piece.heightMm];
    return Array.from({ length: run === runs - 1 ? last : plan.perRun }, (__, n) => ({
      xMm: margins.leftMm + (n % columns) * (w + room.gapXMm),
      yMm: margins.leadMm + Math.floor(n / columns) * (h + room.gapYMm),
      angleDeg: turned ? 90 : 0,
    }));
  });
}
