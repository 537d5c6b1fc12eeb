import type { RectMm } from '../../geometry/frame.ts';
import { wrapDeg } from '../../geometry/turn.ts';
import type { Mark } from '../marks/mark.ts';
import { sheetStartMm } from '../sheets/sheetSpans.ts';
import { type LaidOutWith, fullMarks } from '../marks/markSettings.ts';

/** How the printed media is turned over before its back is printed. */
export const MEDIA_TURNS = ['side for side', 'end for end'] as const;
export type MediaTurn = (typeof MEDIA_TURNS)[number];
/** *Readable*: each side reads by itself; *show-through*: both coincide, the same picture seen through the cloth. */
export const BACK_CONTENTS = ['readable', 'show-through'] as const;
export type BackContent = (typeof BACK_CONTENTS)[number];
/** How a finished piece is turned by the hand that reads its back. */
export const PIECE_TURNS = ['like a book', 'like a calendar'] as const;
export type PieceTurn = (typeof PIECE_TURNS)[number];

export interface TwoSides {
  readonly turn: MediaTurn;
  readonly content: BackContent;
  readonly pieceTurn: PieceTurn;
  /** Added to the places of the back: what a trial print was measured to be off (mm, frame of the back). */
  readonly offsetXMm: number;
  readonly offsetYMm: number;
}

export interface Extent {
  readonly mediaWidthMm: number;
  readonly lengthMm: number;
  /** Length of a sheet; null on a roll. */
  readonly sheetMm: number | null;
}

/**
 * Where the back of something lies, in the frame of the back (mm, x from the media's left edge). Side for side:
 * x′ = W − x − w, y′ = y, the order is kept; end for end: x′ = x, y′ = L − y − h, the order is reversed. A stack of sheets is
 * turned over as one, so that the sheet which was printed first is uppermost again: each is turned in itself, their order
 * is kept.
 */
export function backRect(rect: RectMm, extent: Extent, sides: TwoSides): RectMm {
  const { mediaWidthMm: w, sheetMm } = extent;
  const { xMm, yMm, widthMm, heightMm } = rect;
  const over = sides.turn === 'side for side';
  const startMm = sheetStartMm(rect, sheetMm);
  const lengthMm = sheetMm ?? extent.lengthMm;
  return {
    xMm: (over ? w - xMm - widthMm : xMm) + sides.offsetXMm,
    yMm: (over ? yMm : startMm + lengthMm - (yMm - startMm) - heightMm) + sides.offsetYMm,
    widthMm,
    heightMm,
  };
}

/**
 * How the artwork of a back is turned, from how its front lies. Turning the media mirrors every angle; end for end adds
 * half a turn, so that both sides read upright when the piece is turned like a book; like a calendar adds another half.
 * What shows through is mirrored beside (see `isMirrored`) and follows the media only.
 */
export function backAngle(frontDeg: number, { turn, content, pieceTurn }: TwoSides): number {
  const half = (turn === 'end for end') !== (content === 'readable' && pieceTurn === 'like a calendar');
  return wrapDeg(-frontDeg + (half ? 180 : 0));
}

/** Whether artwork of the back is drawn left to right, before it is turned. */
export function isMirrored({ content }: TwoSides): boolean {
  return content === 'show-through';
}

/** Gap, margins and marks of the back: what lies at one end of the media stays at that end. */
export function backSettings<S extends LaidOutWith>(front: S, turn: MediaTurn): S {
  const marks = fullMarks(front.marks);
  const ends = turn === 'end for end';
  const otherEnd = { head: 'foot', foot: 'head', both: 'both' } as const;
  const otherEdge = { left: 'right', right: 'left', across: 'across' } as const;
  return {
    ...front,
    ...(ends ? { leadMm: front.trailMm, trailMm: front.leadMm } : {}),
    marks: {
      ...marks,
      // The piece is cut and named by what its front shows.
      crop: { ...marks.crop, on: false },
      label: { ...marks.label, on: false },
      pieceCode: { ...marks.pieceCode, on: false },
      cut: { ...marks.cut, on: false },
      // Those of the front come through at the same places, to be laid over each other (see `backMarks`).
      registration: { ...marks.registration, on: false },
      code: { ...marks.code, ends: ends ? otherEnd[marks.code.ends] : marks.code.ends },
      // A line of text stands at the head; end for end the head has no band of its own.
      slug: { ...marks.slug, on: marks.slug.on && !ends },
      strip: { ...marks.strip, edge: ends ? marks.strip.edge : otherEdge[marks.strip.edge] },
    },
  };
}

/**
 * The front's registration marks at the same places of the media, seen from the back: what a trial print is measured by.
 * @param usableFromMm of both sides: marks count x from the left end of the usable width
 */
export function backMarks(marks: readonly Mark[], extent: Extent, sides: TwoSides, usableFromMm: number): Mark[] {
  return marks.flatMap((mark): Mark[] => {
    if (mark.kind === 'dot') {
      const { diameterMm: d } = mark;
      const at = backRect(
        { xMm: mark.xMm + usableFromMm - d / 2, yMm: mark.yMm - d / 2, widthMm: d, heightMm: d },
        extent,
        sides,
      );
      return [{ ...mark, xMm: at.xMm + d / 2 - usableFromMm, yMm: at.yMm + d / 2 }];
    }
    if (mark.kind === 'line') {
      const [widthMm, heightMm] = [Math.abs(mark.x2 - mark.x1), Math.abs(mark.y2 - mark.y1)];
      const from = { xMm: Math.min(mark.x1, mark.x2) + usableFromMm, yMm: Math.min(mark.y1, mark.y2) };
      const { xMm, yMm } = backRect({ ...from, widthMm, heightMm }, extent, sides);
      const x1 = xMm - usableFromMm;
      return [{ kind: 'line', x1, y1: yMm, x2: x1 + widthMm, y2: yMm + heightMm }];
    }
    return [];
  });
}

/** What the person at the printer has to do before the back is printed. */
export function turnText(turn: MediaTurn, sheetMm: number | null): string {
  if (sheetMm === null) return `media turned ${turn}`;
  const edge = turn === 'side for side' ? 'the leading edge leads again' : 'the trailing edge leads';
  return `stack turned over as one, ${turn}: ${edge}, sheet 1 is uppermost`;
}
