import type { RectMm } from '../geometry/frame.ts';
import type { CarriageSpan, CutOff, PrintMode } from '../machine/constants.ts';

/** Everything that the print time of a run depends on; nothing else of the run is looked at. */
export interface TimedRun {
  readonly lengthMm: number;
  readonly mediaWidthMm: number;
  readonly mode: Pick<PrintMode, 'passes' | 'oneDirectional' | 'lineMmPerS'>;
  readonly span: CarriageSpan;
  readonly dryOut: boolean;
  /** So long it rests on the printer before it is cut off, wound or moved on (min); left out: not at all. */
  readonly dryMin?: number;
  readonly cutOff: CutOff;
  /** Pieces as they lie; only the artwork span and blank lengths need them. */
  readonly pieces: readonly RectMm[];
  /** Coats and repeats of coats over the same length; left out: one. */
  readonly coats?: number;
  /** Cut into sheets of this length, each taken in for itself; by hand: a person loads each. */
  readonly sheets?: { readonly lengthMm: number; readonly byHand: boolean } | undefined;
  /** What the knife follows. */
  readonly contours?: CutPath | undefined;
}

export interface CutPath {
  readonly rings: number;
  readonly pathMm: number;
  /** Knife-up, from ring to ring. */
  readonly travelMm: number;
}
