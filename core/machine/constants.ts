/** What a printer with a carriage is made of, as far as time and media go. Data of the printer, shown to people. */
export interface CarriageConstants {
  readonly nozzlesPerChannel: number;
  readonly nozzlesPerInch: number;
  readonly carriageMmPerS: number;
  readonly carriageMmPerS2: number;
  /** Pause at the end of each stroke (s). */
  readonly dwellS: number;
  readonly returnMmPerS: number;
  /** Feeding media on which nothing is printed. */
  readonly feedMmPerS: number;
  /** Back to the front, where the next coat starts again. */
  readonly backFeedMmPerS: number;
  readonly dryOutMmPerS: number;
  readonly bedWidthMm: number;
  readonly startUpS: number;
  readonly fullCutS: number;
  readonly perforateS: number;
  /** For each sheet or bed that the machine takes in. */
  readonly loadS: number;
  /** A person's time at each stop. */
  readonly handS: number;
  /** Fed behind each run so that its end clears the head or the cutter (mm). */
  readonly trailerMm: number;
  readonly cutter: CutterConstants | null;
}

/** A knife that follows contours. */
export interface CutterConstants {
  /** Finding the marks, once a run. */
  readonly markReadS: number;
  readonly cutMmPerS: number;
  readonly travelMmPerS: number;
  /** Up and down again, each ring. */
  readonly liftS: number;
}

export interface PrintMode {
  readonly id: string;
  readonly name: string;
  readonly dpiX: number;
  readonly dpiY: number;
  readonly passes: number;
  readonly oneDirectional: boolean;
  readonly dropPl: number;
  readonly profile: string;
  readonly profilePasses: number;
  /** Of a page-wide array: the speed of the media under it. Null: a carriage. */
  readonly lineMmPerS: number | null;
}

export const SPANS = ['whole bed', 'media', 'artwork'] as const;
export type CarriageSpan = (typeof SPANS)[number];
export const CUT_OFFS = ['none', 'full', 'perforated'] as const;
export type CutOff = (typeof CUT_OFFS)[number];

/**
 * What makes a mode unfit, or null: a profile made for another pass count ruins prints, and fewer passes than the
 * resolution needs leave lines open. Source: passes ≥ ceil(dpi_y ÷ nozzles per inch).
 */
export function modeTrouble(
  mode: Pick<PrintMode, 'passes' | 'profile' | 'profilePasses' | 'dpiY' | 'lineMmPerS'>,
  nozzlesPerInch: number,
): string | null {
  if (mode.passes !== mode.profilePasses) {
    return `${String(mode.passes)} passes, but its profile ${mode.profile} was made for ${String(mode.profilePasses)}`;
  }
  const least = Math.ceil(mode.dpiY / nozzlesPerInch - 1e-9);
  if (mode.lineMmPerS === null && mode.passes < least) {
    return `${String(mode.passes)} passes, but ${String(mode.dpiY)} dpi at ${String(nozzlesPerInch)} nozzles per inch take at least ${String(least)}`;
  }
  return null;
}
