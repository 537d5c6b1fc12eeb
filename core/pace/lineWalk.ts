/** Work that was on a printer, or is planned there: what its line is walked again by. Instants and times ms. */
export interface WalkedRun {
  readonly id: string;
  readonly printerId: string;
  readonly startedMs: number;
  readonly endedMs: number;
  /** It can't begin before its last job was there. */
  readonly readyMs: number;
  /** Of the wait before it, what hands took: another stock or mode. The rest of the wait may be used up by a delay. */
  readonly handsMs: number;
  readonly jobs: readonly { readonly id: string; readonly dueMs: number | null }[];
}

/** A line in which a run could stand, and how long it would be printed there. */
export interface WalkChoice {
  readonly lineId: string;
  readonly lastsMs: number;
}

export interface Walk {
  /** When each run would end. */
  readonly ends: ReadonlyMap<string, number>;
  /** Which of its choices each run took, from 0. */
  readonly taken: ReadonlyMap<string, number>;
}

/**
 * Walks the lines again, run by run in the order in which they began. A run that could begin sooner waits as long as it did once its
 * job was there and its printer free; one that is held up uses up the idle time before it, but not the time that hands take. No run
 * begins before its job was there. (Pace, “What-if”.)
 * @param choicesOf where a run could stand: it goes where it ends first, at a tie where it stands first in the list. None: it is
 *   printed along with another run, and takes no place
 */
export function walkLines<Run extends WalkedRun>(
  runs: readonly Run[],
  choicesOf: (run: Run) => readonly WalkChoice[],
): Walk {
  const ends = new Map<string, number>();
  const taken = new Map<string, number>();
  /** By line: until when it was taken, and would be. */
  const was = new Map<string, number>();
  const free = new Map<string, number>();
  for (const run of [...runs].sort((a, b) => a.startedMs - b.startedMs)) {
    const before = was.get(run.printerId);
    was.set(run.printerId, run.endedMs);
    let best: { readonly at: number; readonly endMs: number } | undefined;
    const choices = choicesOf(run);
    for (const [at, { lineId, lastsMs }] of choices.entries()) {
      const endMs = startIn(run, lineId, before, free.get(lineId)) + lastsMs;
      if (!best || endMs < best.endMs) best = { at, endMs };
    }
    const lineId = best && choices[best.at]?.lineId;
    if (!best || lineId === undefined) continue;
    ends.set(run.id, best.endMs);
    taken.set(run.id, best.at);
    free.set(lineId, best.endMs);
  }
  return { ends, taken };
}

/**
 * When a run would begin in a line.
 * @param beforeMs when the run before it in its own line ended; undefined: it was the first
 * @param freeMs when the line would be free; undefined: nothing would have been in it yet
 */
function startIn(run: WalkedRun, lineId: string, beforeMs: number | undefined, freeMs: number | undefined): number {
  const { startedMs, handsMs } = run;
  const readyMs = Math.min(run.readyMs, startedMs);
  const wasFreeMs = Math.max(readyMs, beforeMs ?? startedMs);
  const waitMs = Math.max(0, startedMs - wasFreeMs);
  // Of the first run of its own line nobody knows what it waited for: it begins when it did.
  if (freeMs === undefined && (lineId === run.printerId || beforeMs === undefined)) return startedMs;
  const isFreeMs = Math.max(readyMs, freeMs ?? readyMs);
  return isFreeMs <= wasFreeMs ? isFreeMs + waitMs : Math.max(startedMs, isFreeMs + Math.min(waitMs, handsMs));
}

/** Jobs that are late, and how late they are together (ms). */
export interface Lateness {
  readonly lateJobs: number;
  readonly lateMs: number;
}

/** A job is there once its last run has ended. */
export function latenessOf(runs: readonly WalkedRun[], endOf: (run: WalkedRun) => number): Lateness {
  const jobs = new Map<string, { readonly dueMs: number; readonly endMs: number }>();
  for (const run of runs) {
    for (const { id, dueMs } of run.jobs) {
      if (dueMs === null) continue;
      jobs.set(id, { dueMs, endMs: Math.max(endOf(run), jobs.get(id)?.endMs ?? -Infinity) });
    }
  }
  const late = [...jobs.values()].map(({ dueMs, endMs }) => endMs - dueMs).filter((ms) => ms > 0);
  return { lateJobs: late.length, lateMs: late.reduce((sum, ms) => sum + ms, 0) };
}
