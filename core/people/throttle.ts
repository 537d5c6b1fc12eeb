const SECOND_MS = 1000;
/** However many sign-ins have failed, nobody waits longer than this. */
const LONGEST_MS = 15 * 60 * SECOND_MS;

/**
 * How long the next attempt to sign in has to wait after the last one that failed.
 * @param failures since the last one that went well
 * @param free so many may fail without any wait
 * @returns ms: none, then 1 s, doubled with each further failure, 15 min at most
 */
export function attemptWaitMs(failures: number, free: number): number {
  const beyond = failures - free;
  if (beyond < 0) return 0;
  return Math.min(LONGEST_MS, SECOND_MS * 2 ** Math.min(beyond, 30));
}
