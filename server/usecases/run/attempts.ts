import { and, eq } from 'drizzle-orm';
import { RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { type AttemptTerms, runAttempts } from '../../db/tables/records.ts';
import { type runs } from '../../db/tables/schema.ts';
import { stocks } from '../../db/tables/floorTables.ts';
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
      .values({ ...figuresOf(after), outcome: 'on the printer', sentMs: nowMs, terms: termsOf(tx, after) })
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
  if (closed === 0)
    tx.insert(runAttempts)
      .values({ ...ended, terms: termsOf(tx, after) })
      .run();
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

/** Prices and lengths that count for an attempt: those of the moment at which it is sent, or today's where nobody wrote them down. */
export function termsOf(db: Reader, run: RunRow): AttemptTerms {
  const config = findPrinter(db, run.printerId)?.config;
  const stock = db.select().from(stocks).where(eq(stocks.id, run.ticket.stockId)).get();
  return {
    queueId: run.queueId,
    mediaWidthMm: run.mediaWidthMm,
    leadMm: run.settings.leadMm,
    trailMm: run.settings.trailMm,
    plannedInkMl: Object.values(run.inkMl).reduce((sum, ml) => sum + ml, 0),
    mediaPerM2Minor: stock?.pricePerM2Minor ?? 0,
    ratePerHourMinor: config?.ratePerHourMinor ?? 0,
    pricePerMlMicro: Object.fromEntries(
      (config?.channels ?? []).map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro]),
    ),
  };
}
