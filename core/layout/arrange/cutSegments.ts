import type { RectMm } from '../../geometry/frame.ts';
import { turnedSize } from '../../geometry/turn.ts';
import type { Turning } from '../orientations.ts';
import { type Result, ok, refuse } from '../../result.ts';
import {
  type SegmentPlace,
  type SegmentRefusal,
  type SegmentRoom,
  groupsBySize,
  planSegment,
  segmentPlaces,
} from './segments.ts';

/** Whether the rows of a segment are laid anew, each size by itself, or stay as they lie on the Bench. */
export const SEGMENT_ROWS = ['anew', 'as laid'] as const;
export type SegmentRows = (typeof SEGMENT_ROWS)[number];

export interface SegmentRule {
  readonly rows: SegmentRows;
  /** So many pieces a segment at most; null: as many as it takes. */
  readonly mostPieces: number | null;
}

/** A piece of the run that is cut, and where it lies; null where it doesn't yet. */
export interface SegmentPiece extends Turning {
  readonly pieceId: string;
  readonly laid: SegmentPlace | null;
}

export interface Segment<P> {
  readonly pieces: readonly P[];
  /** Of each piece, from the leading edge of its own segment. */
  readonly places: readonly SegmentPlace[];
  /** From its first to its last edge along the feed (mm), without margins. */
  readonly extentMm: number;
}

export type CutRefusal<P> =
  | (SegmentRefusal & { readonly piece: P })
  /** Rows can't stay as they lie where not all pieces do. */
  | { readonly code: 'not-laid'; readonly count: number };

/** The segments of a run, in the order of printing; each is no longer than its room. */
export function cutSegments<P extends SegmentPiece>(
  pieces: readonly P[],
  { rows, mostPieces }: SegmentRule,
  quarterTurns: boolean,
  room: SegmentRoom,
  margins: { readonly leadMm: number; readonly leftMm: number },
): Result<Segment<P>[], CutRefusal<P>> {
  if (rows === 'as laid') return cutAsLaid(pieces, mostPieces ?? Infinity, room, margins.leadMm);
  const segments: Segment<P>[] = [];
  for (const { pieces: same, ...size } of groupsBySize(pieces, quarterTurns)) {
    const plan = planSegment(size, room, mostPieces);
    const [first] = same;
    if (!first) continue;
    if (!plan.ok) return refuse({ ...plan.reason, piece: first });
    let from = 0;
    for (const places of segmentPlaces(same.length, size, plan.value, room, margins)) {
      const own = same.slice(from, (from += places.length));
      segments.push({ pieces: own, places, extentMm: extentOf(own, places) });
    }
  }
  return ok(segments);
}

/** Rows that lie behind one another, one segment as many of them as its length and its number of pieces take. */
function cutAsLaid<P extends SegmentPiece>(
  pieces: readonly P[],
  mostPieces: number,
  room: SegmentRoom,
  leadMm: number,
): Result<Segment<P>[], CutRefusal<P>> {
  const missing = pieces.filter(({ laid }) => laid === null).length;
  if (missing > 0) return refuse({ code: 'not-laid', count: missing });
  const segments: P[][] = [];
  let startMm = 0;
  for (const row of laidRows(pieces).flatMap((each) => chunks(each, mostPieces))) {
    const { fromMm, toMm } = reach(row);
    const [first] = row;
    if (first && toMm - fromMm > room.lengthMm + 1e-6) {
      return refuse({ code: 'too-long', leastMm: toMm - fromMm, roomMm: room.lengthMm, piece: first });
    }
    const last = segments.at(-1);
    if (last && toMm - startMm <= room.lengthMm + 1e-6 && last.length + row.length <= mostPieces) last.push(...row);
    else {
      segments.push([...row]);
      startMm = fromMm;
    }
  }
  return ok(
    segments.map((own) => {
      const { fromMm, toMm } = reach(own);
      const places = own.map((piece) => {
        const { xMm, yMm, angleDeg } = rectOf(piece);
        return { xMm, yMm: yMm - fromMm + leadMm, angleDeg };
      });
      return { pieces: own, places, extentMm: toMm - fromMm };
    }),
  );
}

/** What straight cuts across the media part, in the order of printing; in each, from the left edge to the right. */
function laidRows<P extends SegmentPiece>(pieces: readonly P[]): P[][] {
  const rows: P[][] = [];
  let endMm = -Infinity;
  for (const piece of [...pieces].sort((a, b) => rectOf(a).yMm - rectOf(b).yMm)) {
    const { yMm, heightMm } = rectOf(piece);
    const row = rows.at(-1);
    if (row && yMm < endMm - 1e-6) row.push(piece);
    else rows.push([piece]);
    endMm = Math.max(endMm, yMm + heightMm);
  }
  return rows.map((row) => row.sort((a, b) => rectOf(a).xMm - rectOf(b).xMm || rectOf(a).yMm - rectOf(b).yMm));
}

function chunks<P>(row: readonly P[], most: number): P[][] {
  if (row.length <= most) return [[...row]];
  return Array.from({ length: Math.ceil(row.length / most) }, (_, i) => row.slice(i * most, (i + 1) * most));
}

function reach(row: readonly SegmentPiece[]): { readonly fromMm: number; readonly toMm: number } {
  const rects = row.map(rectOf);
  return {
    fromMm: Math.min(...rects.map(({ yMm }) => yMm)),
    toMm: Math.max(...rects.map(({ yMm, heightMm }) => yMm + heightMm)),
  };
}

function rectOf({ laid, widthMm, heightMm }: SegmentPiece): RectMm & { readonly angleDeg: number } {
  const { xMm, yMm, angleDeg } = laid ?? { xMm: 0, yMm: 0, angleDeg: 0 };
  return { xMm, yMm, angleDeg, ...turnedSize(widthMm, heightMm, angleDeg) };
}

function extentOf(pieces: readonly SegmentPiece[], places: readonly SegmentPlace[]): number {
  const { fromMm, toMm } = reach(pieces.map((piece, i) => ({ ...piece, laid: places[i] ?? null })));
  return toMm - fromMm;
}
