/** What was said of a night, and what came. */
export interface Said {
  /** Stated odds, 0 to 1. */
  readonly p: number;
  readonly came: boolean;
}

/** Nights of about the same stated odds. */
export interface OddsBin {
  readonly fromP: number;
  readonly toP: number;
  readonly n: number;
  /** Mean of what was said; null: no night. */
  readonly meanP: number | null;
  /** Share that came true. */
  readonly share: number | null;
  /** Whether what came is what was said, but for chance; null: too few nights to say. */
  readonly holds: boolean | null;
}

export interface Calibration {
  readonly bins: readonly OddsBin[];
  /** Mean squared difference of what was said and what came; 0 is perfect. */
  readonly brier: number;
  /** Of it, how far what was said is from what came in its bin; 0 is honest. */
  readonly reliability: number;
  /** How far nights of different odds really differ. */
  readonly resolution: number;
  /** Against somebody who always says the mean: above 0 it knows more. */
  readonly skill: number;
}

const BINS = 10;
/** Fewer nights say nothing about a bin. */
const ENOUGH = 200;

/**
 * How honest odds have been, by bins of stated odds [0, 0.1) to [0.9, 1]. (Odds, “Calibration”.)
 * @throws RangeError where there is no night
 */
export function calibrationOf(nights: readonly Said[]): Calibration {
  const total = nights.length;
  if (total === 0) throw new RangeError('there is no night to look back on');
  const base = nights.filter(({ came }) => came).length / total;
  const brier = nights.reduce((sum, { p, came }) => sum + (p - (came ? 1 : 0)) ** 2, 0) / total;
  const bins = Array.from({ length: BINS }, (_, i) => binOf(nights, i));
  const weighted = (of: (bin: { readonly meanP: number; readonly share: number }) => number): number =>
    bins.reduce(
      (sum, { n, meanP, share }) => (meanP === null || share === null ? sum : sum + n * of({ meanP, share })),
      0,
    ) / total;
  const spread = base * (1 - base);
  return {
    bins,
    brier,
    reliability: weighted(({ meanP, share }) => (meanP - share) ** 2),
    resolution: weighted(({ share }) => (share - base) ** 2),
    // Where all nights came out alike there is nothing to know more about.
    skill: spread === 0 ? 0 : 1 - brier / spread,
  };
}

function binOf(nights: readonly Said[], i: number): OddsBin {
  const [fromP, toP] = [i / BINS, (i + 1) / BINS];
  const own = nights.filter(({ p }) => Math.min(BINS - 1, Math.floor(p * BINS)) === i);
  const n = own.length;
  if (n === 0) return { fromP, toP, n, meanP: null, share: null, holds: null };
  const meanP = own.reduce((sum, { p }) => sum + p, 0) / n;
  const share = own.filter(({ came }) => came).length / n;
  const slack = 2 * Math.sqrt((meanP * (1 - meanP)) / n);
  return { fromP, toP, n, meanP, share, holds: n < ENOUGH ? null : share >= fromP - slack && share <= toP + slack };
}
