export interface LineRun {
  readonly id: string;
  readonly state: string;
  readonly estimateMs: number;
  readonly startedMs: number | null;
  readonly endedMs: number | null;
  /** Time left as the printer last said, and when it said it. */
  readonly msLeft: number | null;
  readonly saidAtMs: number | null;
}

export interface Span {
  readonly id: string;
  readonly fromMs: number;
  readonly toMs: number;
}

/**
 * When the runs of one printer were, are and will be printed: ended ones as they were, the present one to its promised
 * end (never before now), the queued ones after it in their order.
 */
export function lineOfRuns(runs: readonly LineRun[], nowMs: number): Span[] {
  const spans: Span[] = [];
  let free = nowMs;
  for (const run of runs) {
    if (run.endedMs !== null && run.startedMs !== null) {
      spans.push({ id: run.id, fromMs: run.startedMs, toMs: run.endedMs });
    }
  }
  for (const run of runs) {
    if (!['sent', 'printing', 'paused'].includes(run.state)) continue;
    const fromMs = run.startedMs ?? nowMs;
    // A paused run keeps the time it still needs in front of it.
    const promised =
      run.state === 'paused' || run.saidAtMs === null
        ? nowMs + (run.msLeft ?? run.estimateMs)
        : run.saidAtMs + (run.msLeft ?? run.estimateMs);
    free = Math.max(nowMs, promised);
    spans.push({ id: run.id, fromMs, toMs: free });
  }
  for (const run of runs) {
    if (run.state !== 'queued') continue;
    spans.push({ id: run.id, fromMs: free, toMs: free + run.estimateMs });
    free += run.estimateMs;
  }
  return spans;
}
