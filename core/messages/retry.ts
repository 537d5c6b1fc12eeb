/** What could not be sent is tried again: soon at first, then less and less often, and given up in the end (ms). */
const WAITS_MS = [15_000, 60_000, 5 * 60_000, 15 * 60_000, 60 * 60_000] as const;

/**
 * When to try again.
 * @param tries how often it was tried already
 * @returns null: it is given up
 */
export function nextTryMs(tries: number, nowMs: number): number | null {
  const wait = WAITS_MS[tries - 1];
  return wait === undefined ? null : nowMs + wait;
}
