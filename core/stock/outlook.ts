/** How a stock will last. Lengths mm. */
export interface Outlook {
  /** Used on one open day, at the present pace. */
  readonly perDayMm: number;
  /** Open days that it still lasts once the queued runs have taken theirs; null: nothing of it is used. */
  readonly daysLeft: number | null;
  /** Whether it has to be ordered now. */
  readonly order: boolean;
}

/**
 * What is left of a stock, less what is queued, over what an open day used lately.
 * @param usedMm taken by runs within `openDays` days on which the shop was open
 * @param aheadDays so many open days ahead it is ordered
 */
export function outlook({
  leftMm,
  queuedMm,
  usedMm,
  openDays,
  aheadDays,
}: {
  readonly leftMm: number;
  readonly queuedMm: number;
  readonly usedMm: number;
  readonly openDays: number;
  readonly aheadDays: number;
}): Outlook {
  const perDayMm = openDays > 0 ? usedMm / openDays : 0;
  const after = leftMm - queuedMm;
  const daysLeft = perDayMm > 0 ? Math.max(0, after) / perDayMm : after < 0 ? 0 : null;
  return { perDayMm, daysLeft, order: daysLeft !== null && daysLeft < aheadDays };
}
