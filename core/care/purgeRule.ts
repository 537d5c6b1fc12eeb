/** A channel of a purge that is due. Instants in ms. */
export interface PurgedChannel {
  readonly id: string;
  /** 0: the purge doesn't fire it. */
  readonly level: number;
  readonly limitMs: number;
  /** Never: the day its head was fitted. */
  readonly exercisedMs: number;
  /** The earliest planned instant after the purge that exercises it; null: none is planned. */
  readonly nextMs: number | null;
}

/** Idle beyond this share of its limit a channel is purged whatever comes next. */
const FRESH = 0.5;

/** Whether a channel can do without this purge: it is fresh, and will be exercised again within its idle limit. */
export function isExercised({ limitMs, exercisedMs, nextMs }: PurgedChannel, dueMs: number): boolean {
  return dueMs - exercisedMs < limitMs * FRESH && nextMs !== null && nextMs - exercisedMs <= limitMs;
}

/**
 * What of a purge is fired. It is skipped where every channel can do without it; else all of it is printed, or where the design says
 * so only the channels that need it.
 * @returns ids of the channels to fire; none: skipped (exercised by work)
 */
export function channelsToPurge(channels: readonly PurgedChannel[], dueMs: number, onlyNeeded: boolean): string[] {
  const fired = channels.filter(({ level }) => level > 0);
  const needed = fired.filter((channel) => !isExercised(channel, dueMs));
  return (onlyNeeded || needed.length === 0 ? needed : fired).map(({ id }) => id);
}

/**
 * The latest start of care: its due instant and the timer's slack, or when one of its channels becomes overdue, but never
 * before it is due (ms).
 */
export function latestStartMs(dueMs: number, slackMs: number, overdueMs: readonly number[]): number {
  return Math.max(dueMs, Math.min(dueMs + slackMs, ...overdueMs));
}

/** Looks come twice a second, and a printer takes a moment: so much later than the latest start is not late yet (ms). */
const LATE_MS = 60_000;

/** Whether care begins beyond its latest start; where that is seen beforehand it is a conflict. */
export function isLate(startMs: number, latestMs: number): boolean {
  return startMs > latestMs + LATE_MS;
}

/** Care that a timer will bring, in the order of time. */
interface ComingCare {
  readonly timerId: string | null;
  readonly fromMs: number;
  readonly latestMs: number;
}

/**
 * The care that goes before a run: what is not due yet when the run could start, and would be late once it has ended. Of each timer
 * that is its next occurrence alone; those that follow it within the run wait until it ends.
 * @param isDone whether care by its place has been done, or is in the line
 * @returns places, in the order of time
 */
export function careBeforeRun(
  care: readonly ComingCare[],
  startMs: number,
  estimateMs: number,
  isDone: (at: number) => boolean,
): number[] {
  const seen = new Set<string>();
  const first: number[] = [];
  for (const [at, { timerId, fromMs, latestMs }] of care.entries()) {
    if (fromMs > startMs + estimateMs) break;
    if (timerId === null || isDone(at) || seen.has(timerId)) continue;
    seen.add(timerId);
    if (fromMs > startMs && isLate(startMs + estimateMs, latestMs)) first.push(at);
  }
  return first;
}

/** What becomes of occurrences that fell due while nobody looked. */
export interface Missed {
  /** Made up at once; null: none. */
  readonly makeUpMs: number | null;
  readonly reportedMs: readonly number[];
}

/**
 * With *catch up* the latest is made up where the next is at least half an interval away; all others are reported.
 * @param missedMs in order; not empty
 * @param nextMs the next one; null: none comes
 */
export function missedOccurrences(
  missedMs: readonly number[],
  nextMs: number | null,
  nowMs: number,
  policy: 'catch-up' | 'report',
): Missed {
  const latest = missedMs.at(-1);
  if (latest === undefined) return { makeUpMs: null, reportedMs: [] };
  const interval = nextMs === null ? 0 : nextMs - latest;
  const isFar = nextMs === null || nextMs - nowMs >= interval / 2;
  if (policy === 'report' || !isFar) return { makeUpMs: null, reportedMs: missedMs };
  return { makeUpMs: latest, reportedMs: missedMs.slice(0, -1) };
}
