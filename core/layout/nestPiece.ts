import type { Grain } from './orientations.ts';
import type { Outline } from '../geometry/polygon.ts';
import type { HeldPlace } from './sheets/placeAcross.ts';

/** What is to be packed: `copies` equal rectangles; width and height include bleed and the piece's own marks. */
export interface NestPiece {
  readonly id: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly copies: number;
  readonly quarterTurn: boolean;
  /** Which way the artwork must lie to the media's grain, which runs along the feed; leaves no quarter turn. */
  readonly grain?: Grain;
  /** Its contour, from the upper left corner of its rectangle (mm): it is nested by that instead of the rectangle. */
  readonly outline?: Outline | undefined;
  /** Whether a piece with a contour may be turned by half; allowed where nothing is said. */
  readonly halfTurn?: boolean;
  /** A piece with a contour that may turn does so in steps of this (degrees); left out: quarter turns. */
  readonly turnStepDeg?: number;
  /** Its copies form one block. */
  readonly together?: boolean;
  /** With order *groups*: lower ones come first on the media. */
  readonly group?: number;
  /** Held at this place across the media instead of nested. */
  readonly held?: HeldPlace;
}
