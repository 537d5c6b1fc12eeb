/** How near the ink of a channel is to drying in its nozzles. */
export type ClogRisk = 'fresh' | 'due' | 'overdue';

/**
 * Idle time of a channel against its idle limit: fresh below half of it, due below all of it, then overdue.
 * @param idleMs since it was last fired (ms)
 * @param limitMs how long it may stand (ms, above 0)
 */
export function clogRisk(idleMs: number, limitMs: number): ClogRisk {
  const ratio = idleMs / limitMs;
  return ratio < 0.5 ? 'fresh' : ratio < 1 ? 'due' : 'overdue';
}
