import { and, eq } from 'drizzle-orm';
import { RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { runAttempts } from '../../db/records.ts';
import type { runs } from '../../db/schema.ts';
import type { Work } from '../../shop.ts';

type RunRow = typeof runs.$inferSelect;

const ENDS = ['printed', 'failed', 'cancelled'] as const;
type End = (typeof ENDS)[number];

function isEnd(state: RunRow['state']): state is End {
  return (ENDS as readonly string[]).includes(state);
}

/**
 * Keeps the record of attempts in step with a run: one is opened when the run is sent and closed when it ends on the printer.
 * Called by the transition of runs alone, in its transaction, so that no attempt is missing and none stays open.
 */
export function recordAttempt({ tx, nowMs }: Work, before: RunRow, after: RunRow): void {
  if (before.state === 'queued' && after.state === 'sent') {
    tx.insert(runAttempts)
      .values({ ...figuresOf(after), outcome: 'on the printer', sentMs: nowMs })
      .run();
  }
  if (!RUN_STATES_ON_PRINTER.includes(before.state) || !isEnd(after.state)) return;
  const ended = { ...figuresOf(after), outcome: after.state, cause: after.reason, endedMs: after.endedMs ?? nowMs };
  const closed = tx
    .update(runAttempts)
    .set(ended)
    .where(and(eq(runAttempts.runId, after.id), eq(runAttempts.attempt, after.attempt)))
    .run().changes;
  // A run that an earlier version had sent has no open attempt yet.
  if (closed === 0) tx.insert(runAttempts).values(ended).run();
}

/** What an attempt keeps of its run: it is still true when the run was printed again. */
function figuresOf(run: RunRow) {
  return {
    runId: run.id,
    attempt: run.attempt,
    printerId: run.printerId,
    modeId: run.ticket.modeId,
    stockId: run.ticket.stockId,
    spoolId: run.spoolId,
    estimateMs: run.estimateMs,
    startedMs: run.startedMs,
    pausedMs: run.pausedMs,
    lengthMm: run.reachedMm ?? 0,
    fedMm: run.fedMm ?? 0,
  };
}
