import { type Result, ok, refuse } from '../result.ts';
import { neededExtentMm, piecesThatFit, runsForOrder } from './stepAndRepeat.ts';

export interface SegmentPiece {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly quarterTurn: boolean;
}

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
 * @returns the plan, or with figures why not one piece fits
 */
export function planSegment(piece: SegmentPiece, room: SegmentRoom): Result<SegmentPlan, SegmentRefusal> {
  const ways = piece.quarterTurn && piece.widthMm !== piece.heightMm ? [false, true] : [false];
  const plans = ways.map((turned) => planOneWay(piece, turned, room)).filter((plan) => plan.perRun > 0);
  const [first, ...others] = plans;
  if (!first) return refuse(whyNone(piece, room));
  return ok(others.reduce((best, plan) => (isDenser(plan, best) ? plan : best), first));
}

function planOneWay(piece: SegmentPiece, turned: boolean, room: SegmentRoom): SegmentPlan {
  const [w, h] = turned ? [piece.heightMm, piece.widthMm] : [piece.widthMm, piece.heightMm];
  const columns = piecesThatFit(room.widthMm, w, room.gapXMm);
  const rows = columns > 0 ? piecesThatFit(room.lengthMm, h, room.gapYMm) : 0;
  return { columns, rows, turned, perRun: columns * rows, extentMm: neededExtentMm(rows, h, room.gapYMm) };
}

const SAME = 1e-9;

function isDenser(plan: SegmentPlan, than: SegmentPlan): boolean {
  const difference = plan.perRun / plan.extentMm - than.perRun / than.extentMm;
  return Math.abs(difference) > SAME ? difference > 0 : plan.extentMm < than.extentMm;
}

function whyNone(piece: SegmentPiece, room: SegmentRoom): SegmentRefusal {
  const { widthMm: w, heightMm: h, quarterTurn } = piece;
  const across = quarterTurn ? Math.min(w, h) : w;
  if (across > room.widthMm) return { code: 'too-wide', leastMm: across, roomMm: room.widthMm };
  // Of the ways that fit across, the shorter one.
  const along = [...(w <= room.widthMm ? [h] : []), ...(quarterTurn && h <= room.widthMm ? [w] : [])];
  return { code: 'too-long', leastMm: Math.min(...along), roomMm: room.lengthMm };
}

export interface SegmentPlace {
  readonly xMm: number;
  readonly yMm: number;
  readonly angleDeg: number;
}

/**
 * The segments of an order of so many pieces, each as its places in the order of printing: rows along the feed, filled
 * across. The last one holds the rest and is no longer than that needs.
 * @param margins before the first row and at the left of each
 */
export function segmentPlaces(
  quantity: number,
  piece: SegmentPiece,
  plan: SegmentPlan,
  gap: Pick<SegmentRoom, 'gapXMm' | 'gapYMm'>,
  margins: { readonly leadMm: number; readonly leftMm: number },
): SegmentPlace[][] {
  const [w, h] = plan.turned ? [piece.heightMm, piece.widthMm] : [piece.widthMm, piece.heightMm];
  const { runs, last } = runsForOrder(quantity, plan.perRun);
  return Array.from({ length: runs }, (_, run) =>
    Array.from({ length: run === runs - 1 ? last : plan.perRun }, (__, n) => ({
      xMm: margins.leftMm + (n % plan.columns) * (w + gap.gapXMm),
      yMm: margins.leadMm + Math.floor(n / plan.columns) * (h + gap.gapYMm),
      angleDeg: plan.turned ? 90 : 0,
    })),
  );
}
