/** What a run takes from its spool. */
export interface Feeding {
  readonly lengthMm: number;
  /** Sheets of this length; null: from a roll. */
  readonly sheetMm: number | null;
  /** How much one sheet counts in the ledger of its pack. */
  readonly packSheetMm: number | null;
  /** Fed behind the run, on a roll. */
  readonly trailerMm: number;
  /** A back is printed on what its front has fed. */
  readonly isBack: boolean;
}

/** Length in the spool's own terms (mm); of a pack whole sheets, each as long as the pack counts it. */
export function neededMm({ lengthMm, sheetMm, packSheetMm, trailerMm, isBack }: Feeding): number {
  if (isBack) return 0;
  if (packSheetMm === null || sheetMm === null) return lengthMm + trailerMm;
  return Math.ceil(lengthMm / sheetMm - 1e-6) * packSheetMm;
}

/** What a printer says it fed, in the spool's own terms (mm). */
export function bookedMm(fedMm: number, { sheetMm, packSheetMm }: Pick<Feeding, 'sheetMm' | 'packSheetMm'>): number {
  if (packSheetMm === null || sheetMm === null) return fedMm;
  return Math.ceil(fedMm / sheetMm - 1e-6) * packSheetMm;
}
