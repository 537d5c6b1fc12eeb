/** How a printer's runs in one mode really went. */
export interface RunOutcome {
  readonly estimateMs: number;
  readonly actualMs: number;
}

/** So many runs are looked at, and at least so many are needed. */
export const LAST = 20;
const LEAST = 5;

export interface Correction {
  /** Actual ÷ estimate; 1 until there are enough runs. */
  readonly factor: number;
  readonly runs: number;
}

/**
 * Median of actual ÷ estimate over the last 20 runs of a printer and mode without faults, from 5 on.
 * @param outcomes the latest first
 */
export function correctionOf(outcomes: readonly RunOutcome[]): Correction {
  const pairs = outcomes.map(({ estimateMs, actualMs }) => ({ estimate: estimateMs, actual: actualMs }));
  return medianRatio(pairs);
}

/**
 * The same of any figure that is estimated and then measured, such as the ink of a channel (ml). Estimates and figures of
 * nothing don't count.
 * @param outcomes the latest first
 */
export function medianRatio(outcomes: readonly { readonly estimate: number; readonly actual: number }[]): Correction {
  const ratios = outcomes
    .filter(({ estimate, actual }) => estimate > 0 && actual > 0)
    .slice(0, LAST)
    .map(({ estimate, actual }) => actual / estimate)
    .sort((a, b) => a - b);
  const runs = ratios.length;
  if (runs < LEAST) return { factor: 1, runs };
  const mid = Math.floor(runs / 2);
  const upper = ratios[mid] ?? 1;
  return { factor: runs % 2 === 1 ? upper : (upper + (ratios[mid - 1] ?? upper)) / 2, runs };
}

/** Ink by channel as it will really be fired: each estimate times what that channel's estimates were off by (ml). */
export function inkAsItGoes(
  inkMl: Readonly<Record<string, number>>,
  factors: Readonly<Record<string, number>> = {},
): Record<string, number> {
  return Object.fromEntries(Object.entries(inkMl).map(([id, ml]) => [id, ml * (factors[id] ?? 1)]));
}
