import { type Turning, orientationsOf } from '../orientations.ts';
import { type Result, ok, refuse } from '../../result.ts';

export interface FeedChoice {
  /** Which edge of the artwork, as drawn, leads; equal sides count as short. */
  readonly leadingEdge: 'long' | 'short';
  readonly turned: boolean;
  readonly leadingMm: number;
}

/**
 * Which edge leads: wider than high → the long edge, else the short edge. The leading edge must fit the usable width,
 * else the artwork is turned where allowed, else refused with the figures.
 */
export function feedDirection(
  widthMm: number,
  heightMm: number,
  usableWidthMm: number,
  quarterTurn: boolean,
): Result<FeedChoice, { readonly code: 'too-wide'; readonly leastMm: number; readonly usableWidthMm: number }> {
  const fits = (mm: number): boolean => mm <= usableWidthMm + 1e-6;
  const edge = (leading: number, other: number): 'long' | 'short' => (leading > other ? 'long' : 'short');
  if (fits(widthMm)) return ok({ leadingEdge: edge(widthMm, heightMm), turned: false, leadingMm: widthMm });
  if (quarterTurn && fits(heightMm)) {
    return ok({ leadingEdge: edge(heightMm, widthMm), turned: true, leadingMm: heightMm });
  }
  const leastMm = quarterTurn ? Math.min(widthMm, heightMm) : widthMm;
  return refuse({ code: 'too-wide', leastMm, usableWidthMm });
}

/** The same for artwork whose job says how it may be turned; a grain leaves it one way. */
export function feedOf(piece: Turning, usableWidthMm: number): ReturnType<typeof feedDirection> {
  const [first, ...others] = orientationsOf(piece);
  return feedDirection(first.widthMm, first.heightMm, usableWidthMm, others.length > 0);
}
