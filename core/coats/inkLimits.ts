/**
 * Holds the inks of one coat at one place to their limits: first each channel to its own, then all together to the total. Channels
 * that are protected keep what they have; the others are all multiplied by (T − Σ protected) ÷ Σ others. Where the protected ones
 * alone are over the total, they are served in their order as far as it reaches, and the others get nothing.
 * Source: limits of the channel chain.
 *
 * @param inks shares of full ink, 0 … 1, in the order of the channels
 * @param total most that may lie at one place, as a sum of shares; null: no limit
 * @param protectedOnes positions of the protected channels, the first served first
 * @param own most of each channel, 0 … 1; left out: full
 */
export function limitInks(
  inks: readonly number[],
  total: number | null,
  protectedOnes: readonly number[] = [],
  own?: readonly number[],
): number[] {
  const limited = inks.map((ink, i) => Math.min(ink, own?.[i] ?? 1));
  if (total === null) return limited;
  const sum = limited.reduce((all, ink) => all + ink, 0);
  if (sum <= total) return limited;
  const kept = new Set(protectedOnes);
  const keptSum = protectedOnes.reduce((all, i) => all + (limited[i] ?? 0), 0);
  if (keptSum <= total) {
    const factor = (total - keptSum) / (sum - keptSum);
    return limited.map((ink, i) => (kept.has(i) ? ink : ink * factor));
  }
  let left = total;
  const served = limited.map(() => 0);
  for (const i of protectedOnes) {
    const ink = Math.min(limited[i] ?? 0, left);
    served[i] = ink;
    left -= ink;
  }
  return served;
}
