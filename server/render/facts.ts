import type { CutLine } from '../../core/contour/contourRule.ts';
import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import type { FileNature } from '../../core/ticket/finding.ts';
import { NO_SIDES, type Sides } from '../../core/ticket/ticket.ts';

/** Why a file can't become a job, in words a person can act on. */
export class Unreadable extends Error {}

export interface PageFacts {
  /** Trim size as the file has it: boxes, rotation and user unit are already in it (mm). */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleed: Sides;
  readonly coverage: Record<string, number>;
  /** Of the coarsest picture on the page, at this size; null: vectors only. */
  readonly dpi: number | null;
  /** Thinnest line on the page, at this size; null: none, or not known. */
  readonly thinnestMm: number | null;
  /** Closed lines that it may be cut along; null: none. */
  readonly cutLines?: CutLine[] | null;
}

export interface FileFacts {
  readonly format: FileFormat;
  readonly pages: readonly PageFacts[];
  readonly nature: FileNature;
}

/** Sizes are kept to 0.0001 mm: points and dots per inch leave tails that mean nothing. */
export function tidyMm(mm: number): number {
  return Math.round(mm * 1e4) / 1e4;
}

export const NO_BLEED: Sides = NO_SIDES;
