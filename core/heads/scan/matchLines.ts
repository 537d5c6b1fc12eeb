import { itemAt } from '../../elementAt.ts';
import type { Peak } from './columnSignal.ts';

/** A line may lie so far from its nozzle's place (line distances). */
const FARTHEST = 0.75;
/** What it costs to say that a nozzle is missing, and that a full line belongs to none. */
const MISSING_COST = 1.5;
const STRAY_COST = 3;

/**
 * Which line each nozzle of a column has drawn: in their order, each as near to its place as can be. A crooked line beside a missing
 * one is not taken for its neighbour's.
 * @param places of the nozzles, in line distances, in order @param full darkness of a good line
 * @returns for each nozzle its line, or undefined
 */
export function matchLines(places: readonly number[], peaks: readonly Peak[], full: number): (Peak | undefined)[] {
  const n = places.length;
  const m = peaks.length;
  const width = m + 1;
  const cost = new Float64Array((n + 1) * width).fill(Infinity);
  /** How the best way came here: 0 a line that belongs to none, 1 a missing nozzle, 2 a match. */
  const way = new Uint8Array((n + 1) * width);
  cost[0] = 0;
  const reach = (to: number, value: number, by: number): void => {
    if (value < (cost[to] ?? Infinity)) {
      cost[to] = value;
      way[to] = by;
    }
  };
  for (let i = 0; i <= n; i += 1) {
    for (let k = 0; k <= m; k += 1) {
      const here = cost[i * width + k] ?? Infinity;
      if (here === Infinity) continue;
      const peak = peaks[k];
      if (peak) reach(i * width + k + 1, here + STRAY_COST * Math.min(1, peak.dark / full), 0);
      const place = places[i];
      if (place === undefined) continue;
      reach((i + 1) * width + k, here + MISSING_COST, 1);
      if (!peak) continue;
      const off = Math.abs(peak.at - place);
      if (off <= FARTHEST)
        reach((i + 1) * width + k + 1, here + (off / 0.5) ** 2 + (peak.dark < 0.3 * full ? 0.5 : 0), 2);
    }
  }
  const matched: (Peak | undefined)[] = Array.from({ length: n }, () => undefined);
  for (let i = n, k = m; i > 0 || k > 0;) {
    const by = way[i * width + k];
    if (by === 0) k -= 1;
    else if (by === 1) i -= 1;
    else {
      matched[i - 1] = itemAt(peaks, k - 1);
      i -= 1;
      k -= 1;
    }
  }
  return matched;
}
