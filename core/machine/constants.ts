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
  readonly dryOutMmPerS: number;
  readonly bedWidthMm: number;
  readonly startUpS: number;
  readonly fullCutS: number;
  /** Fed behind each run so that its end clears the head or the cutter (mm). */
  readonly trailerMm: number;
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
}

export type CarriageSpan = 'whole bed' | 'media' | 'artwork';
export type CutOff = 'none' | 'full';
