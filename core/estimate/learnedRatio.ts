import { gammaQuantile, normalQuantile, studentQuantile, studentShare } from '../distributions.ts';

/**
 * What a shop has learned of a ratio such as actual ÷ estimated time. Its logarithm is normal with a mean and a spread of which
 * neither is known: normal-inverse-gamma. (Pace, “Learning estimates”.)
 */
export interface LearnedRatio {
  /** Mean of the logarithm. */
  readonly m: number;
  /** How many runs the mean is worth. */
  readonly kappa: number;
  /** Of the spread: shape and scale. */
  readonly alpha: number;
  readonly beta: number;
}

/** Before anything was seen: as much opinion as four runs, and a spread of about a tenth. */
const PRIOR = { kappa: 4, alpha: 3, beta: 0.03 } as const;
/** Runs that lie further back say nothing of how it is now. */
export const LEARNED_FROM = 60;

/**
 * @param ratios actual ÷ estimate of runs without faults, the latest first; those of nothing don't count
 * @param m0 mean of the logarithm as the level above has learned it
 */
export function learnedRatio(ratios: readonly number[], m0 = 0): LearnedRatio {
  const logs = ratios
    .filter((ratio) => ratio > 0 && Number.isFinite(ratio))
    .slice(0, LEARNED_FROM)
    .map(Math.log);
  const n = logs.length;
  if (n === 0) return learnedFrom({ n, mean: 0, squares: 0 }, m0);
  const mean = logs.reduce((sum, y) => sum + y, 0) / n;
  const squares = logs.reduce((sum, y) => sum + (y - mean) ** 2, 0);
  return learnedFrom({ n, mean, squares }, m0);
}

/** What ratios have come to: how many, the mean of their logarithms, and the sum of the squares about it. */
export interface RatioSums {
  readonly n: number;
  readonly mean: number;
  readonly squares: number;
}

/** The same of sums that are kept already. */
export function learnedFrom({ n, mean, squares }: RatioSums, m0: number): LearnedRatio {
  if (n === 0) return { m: m0, ...PRIOR };
  const kappa = PRIOR.kappa + n;
  return {
    m: (PRIOR.kappa * m0 + n * mean) / kappa,
    kappa,
    alpha: PRIOR.alpha + n / 2,
    beta: PRIOR.beta + squares / 2 + (PRIOR.kappa * n * (mean - m0) ** 2) / (2 * kappa),
  };
}

/** Spread of the logarithm from run to run, as it is learned: the mean of its variance. */
export function learnedSpread({ alpha, beta }: LearnedRatio): number {
  return beta / (alpha - 1);
}

/** What the next run is expected to be off by. */
export function ratioFactor({ m }: LearnedRatio): number {
  return Math.exp(m);
}

/** Scale of the Student distribution with 2α degrees that the logarithm of the next run has. */
export function ratioScale({ kappa, alpha, beta }: LearnedRatio): number {
  return Math.sqrt((beta * (kappa + 1)) / (alpha * kappa));
}

/** Mean and spread of the logarithm as they may be, drawn once for a night; or as they are, where that is known. */
export interface DrawnRatio {
  readonly mean: number;
  readonly deviation: number;
}

/**
 * @param ratio what is known for sure is drawn as it is
 * @param spreadDraw in (0, 1): which spread
 * @param meanDraw in (0, 1): which mean
 */
export function drawnRatio(ratio: LearnedRatio | DrawnRatio, spreadDraw: number, meanDraw: number): DrawnRatio {
  if ('mean' in ratio) return ratio;
  const { m, kappa, alpha, beta } = ratio;
  const deviation = Math.sqrt(beta / gammaQuantile(spreadDraw, alpha));
  return { mean: m + (deviation / Math.sqrt(kappa)) * normalQuantile(meanDraw), deviation };
}

/** A figure as it is likely to come out: half are below, and 80 of 100 between low and high. */
export interface Likely {
  readonly factor: number;
  readonly low: number;
  readonly high: number;
}

/** So much lies below the upper end of a range that holds 80 of 100. */
const UPPER = 0.9;

/** By what the next estimate has to be multiplied, and the range that holds 80 of 100 of them. */
export function likelyRatio(learned: LearnedRatio): Likely {
  const reach = studentQuantile(UPPER, 2 * learned.alpha) * ratioScale(learned);
  return {
    factor: ratioFactor(learned),
    low: Math.exp(learned.m - reach),
    high: Math.exp(learned.m + reach),
  };
}

/**
 * How surprising a ratio is after what was learned before it, as a standard normal figure: far from 0 means that something
 * is no longer as it was.
 */
export function surpriseOf(ratio: number, learned: LearnedRatio): number {
  const share = studentShare((Math.log(ratio) - learned.m) / ratioScale(learned), 2 * learned.alpha);
  // The distribution is exact to about 1e-14 only: what lies beyond is as surprising as that.
  return normalQuantile(Math.min(1 - LEAST_SHARE, Math.max(LEAST_SHARE, share)));
}

const LEAST_SHARE = 1e-12;
