import type { Bleed } from '../db/schema.ts';

/** Why a file can't become a job, in words a person can act on. */
export class Unreadable extends Error {}

export type FileFormat = 'pdf' | 'png' | 'jpeg';

export interface PageFacts {
  /** Trim size as it will be printed: boxes, rotation and user unit are already in it (mm). */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleed: Bleed;
  readonly coverage: Record<string, number>;
}

export interface FileFacts {
  readonly format: FileFormat;
  readonly pages: readonly PageFacts[];
  readonly pixelsAcross: number | null;
  readonly assumedDpi: number | null;
  readonly hasAlpha: boolean;
}

/** Sizes are kept to 0.0001 mm: points and dots per inch leave tails that mean nothing. */
export function tidyMm(mm: number): number {
  return Math.round(mm * 1e4) / 1e4;
}

export const NO_BLEED: Bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
