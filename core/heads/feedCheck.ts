import { type Result, ok, refuse } from '../result.ts';

/** Two bars are printed so far apart, and measured (mm). */
export const FEED_NOMINAL_MM = 500;
/** A feed that is off by more was measured wrong, or the media slips. */
const MOST_OFF = 0.02;

/** Why a measurement can't be right. */
export interface FeedRefusal {
  readonly code: 'too-far-off';
  readonly measuredMm: number;
  readonly leastMm: number;
  readonly mostMm: number;
}

/**
 * How much farther a printer feeds than it is told: measured ÷ nominal. Its advance is divided by it.
 * @param measuredMm between the two bars
 */
export function feedFactor(measuredMm: number, nominalMm = FEED_NOMINAL_MM): Result<number, FeedRefusal> {
  const factor = measuredMm / nominalMm;
  if (Math.abs(factor - 1) <= MOST_OFF + 1e-12) return ok(factor);
  const [leastMm, mostMm] = [nominalMm * (1 - MOST_OFF), nominalMm * (1 + MOST_OFF)];
  return refuse({ code: 'too-far-off', measuredMm, leastMm, mostMm });
}

/** The advance that a printer is told, so that it feeds what is meant (mm). */
export function correctedAdvanceMm(advanceMm: number, factor: number): number {
  return advanceMm / factor;
}
