/** Nobody reads more than so many a second. */
const EVERY_MS = 200;

/** Told how far a task is: a share of the whole, 0 … 1. */
export type Tell = (share: number) => void;

/** Passes on what is worth telling: now and then, never less than before. A kernel may call it as often as it likes. */
export function nowAndThen(tell: Tell | undefined, nowMs: () => number): Tell {
  if (!tell) return () => undefined;
  let lastMs = nowMs();
  let most = 0;
  return (share) => {
    const now = nowMs();
    if (share <= most || now - lastMs < EVERY_MS) return;
    lastMs = now;
    most = Math.min(1, share);
    tell(most);
  };
}

/**
 * For a kernel that asks whether it should stop: lets it go on for so long, and tells which share of that is over. What ends
 * earlier, because it can't become better, is done earlier.
 */
export function untilTimeIsUp(timeLimitMs: number, tell: Tell, nowMs: () => number): () => boolean {
  const startMs = nowMs();
  return () => {
    const share = (nowMs() - startMs) / timeLimitMs;
    tell(share);
    return share > 1;
  };
}
