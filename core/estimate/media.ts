export interface MediaUse {
  /** Length that leaves the spool: the laid-out length and the trailer behind it. */
  readonly fedMm: number;
  readonly fedM2: number;
  readonly printedM2: number;
  readonly wasteM2: number;
}

/** Media taken by a run: what is fed counts, not what is printed on. */
export function mediaUse(lengthMm: number, trailerMm: number, mediaWidthMm: number, pieceAreaMm2: number): MediaUse {
  const fedMm = lengthMm + trailerMm;
  const fedM2 = (fedMm * mediaWidthMm) / 1e6;
  const printedM2 = pieceAreaMm2 / 1e6;
  return { fedMm, fedM2, printedM2, wasteM2: fedM2 - printedM2 };
}
