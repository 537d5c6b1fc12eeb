/** A spool that could be loaded. Lengths mm. */
export interface SpoolChoice {
  readonly widthMm: number;
  readonly leftMm: number;
}

/**
 * Which of several spools of one stock a run takes: the shortest that is wide and long enough, so that long ones are kept for what needs
 * them; else the longest that is wide enough.
 * @returns undefined: none is wide enough, or they are empty
 */
export function assignSpool<S extends SpoolChoice>(
  spools: readonly S[],
  leastWidthMm: number,
  needMm: number,
): S | undefined {
  let best: S | undefined;
  for (const spool of spools) {
    if (spool.leftMm <= 0 || spool.widthMm < leastWidthMm) continue;
    if (!best) {
      best = spool;
      continue;
    }
    const fits = spool.leftMm >= needMm;
    const bestFits = best.leftMm >= needMm;
    if (fits !== bestFits ? fits : fits ? spool.leftMm < best.leftMm : spool.leftMm > best.leftMm) best = spool;
  }
  return best;
}
