/** How a printer's runs in one mode really went. */
export interface RunOutcome {
  readonly estimateMs: number;
  readonly actualMs: number;
}

/** So many runs are looked at, and at least so many are needed. */
const LAST = 20;
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
  const ratios = outcomes
    .filter(({ estimateMs, actualMs }) => estimateMs > 0 && actualMs > 0)
    .slice(0, LAST)
    .map(({ estimateMs, actualMs }) => actualMs / estimateMs)
    .sort((a, b) => a - b);
  const runs = ratios.length;
  if (runs < LEAST) return { factor: 1, runs };
  const mid = Math.floor(runs / 2);
  const upper = ratios[mid] ?? 1;
  return { factor: runs % 2 === 1 ? upper : (upper + (ratios[mid - 1] ?? upper)) / 2, runs };
}
