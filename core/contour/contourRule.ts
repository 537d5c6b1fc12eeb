import type { Outline } from '../geometry/polygon.ts';

/** Where a contour is taken from: lines in a spot colour, the lines of a layer, or the edge of what is not transparent. */
export const CONTOUR_SOURCES = ['spot', 'layer', 'picture'] as const;
export type ContourSource = (typeof CONTOUR_SOURCES)[number];

/** How a job is cut along a contour. */
export interface ContourRule {
  readonly from: ContourSource;
  /** Of the spot colour or layer; null for the picture. */
  readonly name: string | null;
  /** The cut lies so far outside of what was found; below zero: inside. */
  readonly offsetMm: number;
  /** The print goes on so far beyond the cut. */
  readonly bleedMm: number;
}

/** Closed lines that a file brings: points as x, y, x, y … from the upper left corner of the trim (mm of the source, upright). */
export interface CutLine {
  readonly from: ContourSource;
  readonly name: string | null;
  readonly rings: readonly (readonly number[])[];
}

/** The contour of a page as it lies, from the upper left corner of what is printed of it (mm). */
export interface Contour {
  /** The line of the file that it was taken from: it is not printed. */
  readonly line: Pick<CutLine, 'from' | 'name'>;
  /** What the cutter follows; inner lines are holes. */
  readonly cut: readonly Outline[];
  /** One closed line around all that is printed: nested by, and printed within. */
  readonly outline: Outline;
}

/**
 * The line of a file that a rule means; undefined where the file brings none like it. A picture has one edge,
 * without a name.
 */
export function cutLineOf(lines: readonly CutLine[], { from, name }: ContourRule): CutLine | undefined {
  return lines.find((line) => line.from === from && (from === 'picture' || line.name === name));
}

/** The line in words: “cut along …”. */
export function cutLineText({ from, name }: Pick<CutLine, 'from' | 'name'>): string {
  if (from === 'picture') return 'the edge of the picture';
  return from === 'spot' ? `the spot colour ${name ?? ''}` : `the layer ${name ?? ''}`;
}
