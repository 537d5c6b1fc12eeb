import { byRealPixels } from './byRealPixels.ts';
import { and, desc, eq, gt, inArray, isNotNull, sql } from 'drizzle-orm';
import type { LearnedFrom } from '../../core/estimate/learnedPrinter.ts';
import { batches } from './batches.ts';
import type { Reader } from './open.ts';
import type { printers } from './tables/floorTables.ts';
import { inkLedger, runAttempts } from './tables/records.ts';
import { runs } from './tables/schema.ts';

/** Less ink says nothing of how much was fired (ml). */
const LEAST_ML = 0.05;

/** How a run went that was printed at the first go and without standing. */
export interface CleanAttempt extends LearnedFrom {
  readonly endedMs: number;
}

/**
 * Runs of a printer that were printed at the first go and without standing, the latest first: what estimates are held against.
 * @param sinceMs only those that ended after it; left out: however long ago
 */
export function cleanAttempts(
  db: Reader,
  { id, config }: typeof printers.$inferSelect,
  { most, sinceMs }: { readonly most: number; readonly sinceMs?: number },
): CleanAttempt[] {
  // Where a person loads each piece every run stops between them: that is how long it takes there, and part of the estimate.
  const byHand = config.sources.every(({ kind }) => kind === 'bed');
  const rows = db
    .select({ attempt: runAttempts, inkMl: runs.inkMl, inkRendering: runs.inkRendering, inkSample: runs.inkSample })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .where(
      and(
        eq(runAttempts.printerId, id),
        sinceMs === undefined ? isNotNull(runAttempts.endedMs) : gt(runAttempts.endedMs, sinceMs),
        eq(runAttempts.outcome, 'printed'),
        eq(runAttempts.attempt, 1),
      ),
    )
    .orderBy(desc(runAttempts.endedMs))
    .limit(most)
    .all();
  const fired = firedBy(
    db,
    id,
    rows.map(({ attempt }) => attempt.runId),
  );
  return rows.flatMap(({ attempt, inkMl, ...source }) => {
    const { runId, modeId, stockId, estimateMs, startedMs, endedMs, pausedMs } = attempt;
    if (startedMs === null || endedMs === null || estimateMs <= 0 || (!byHand && pausedMs > 0)) return [];
    const ink = config.channels.flatMap(({ id: channelId }): [string, number][] => {
      const meant = inkMl[channelId] ?? 0;
      const ml = fired.get(`${runId} ${channelId}`) ?? 0;
      return meant < LEAST_ML || ml <= 0 ? [] : [[channelId, ml / meant]];
    });
    const time = (endedMs - startedMs) / estimateMs;
    return [{ modeId, stockId, endedMs, time, ink: Object.fromEntries(ink), inkCounted: byRealPixels(source) }];
  });
}

/** What the first attempts of runs fired of each channel (ml), by run and channel. */
function firedBy(db: Reader, printerId: string, runIds: readonly string[]): Map<string, number> {
  const { runId, channelId, ml } = inkLedger;
  const rows = batches(runIds).flatMap((ids) =>
    db
      .select({ runId, channelId, ml: sql<number>`-sum(${ml})` })
      .from(inkLedger)
      .where(and(eq(inkLedger.printerId, printerId), inArray(runId, ids), eq(inkLedger.attempt, 1)))
      .groupBy(runId, channelId)
      .all(),
  );
  return new Map(rows.map((row) => [`${row.runId ?? ''} ${row.channelId}`, row.ml]));
}
