import type { Contour, CutLine } from '../contour/contourRule.ts';
import type { Panel } from '../layout/arrange/tiles.ts';
import type { Sides } from './ticket.ts';

/** A page as it came: trim size and the bleed that the file brings, upright (mm). */
export interface SourcePage {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleed: Sides;
  /** Closed lines that it may be cut along. */
  readonly cutLines?: readonly CutLine[] | null;
}

/**
 * A page as it will lie in a run, before the nest turns it. The steps, in this order: crop, size, bleed, turn
 * (counter-clockwise), mirror (left to right, as it lies).
 *
 *   source, upright            finished
 *   ┌───────────────┐
 *   │  ┌─window──┐  │            ┌──────┐
 *   │  │ ┌trim─┐ │  │    →       │┌────┐│
 *   │  │ └─────┘ │  │            ││    ││   sized, bled, turned
 *   │  └─────────┘  │            │└────┘│
 *   └───────────────┘            └──────┘
 */
export interface FinishedPage {
  /** Trim size as it lies (mm). */
  readonly widthMm: number;
  readonly heightMm: number;
  /** Bleed around it as it lies (mm). */
  readonly bleed: Sides;
  readonly turn: 0 | 90 | 180 | 270;
  readonly mirror: boolean;
  /** What of the source is printed, bleed included: from the source trim's top left corner (mm of the source). */
  readonly window: { readonly xMm: number; readonly yMm: number; readonly widthMm: number; readonly heightMm: number };
  /** Finished mm a source mm, across and down the upright artwork. */
  readonly scaleX: number;
  readonly scaleY: number;
  /** Where it is printed in panels: from the upper left corner of what lies here, bleed included. */
  readonly panels?: readonly Panel[];
  /** Where it is cut along a contour: trim and bleed are then those of the rectangle around that. */
  readonly contour?: Contour;
}
