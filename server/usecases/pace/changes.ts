import { and, desc, eq, gt, inArray } from 'drizzle-orm';
import type { PaceChanges } from '../../../contract/api/pace/pace.ts';
import type { SeriesValue } from '../../../core/pace/shopChanges.ts';
import { batches } from '../../db/batches.ts';
import type { Reader } from '../../db/open.ts';
import { inkLedger, runAttempts } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import type { RunHow } from '../../ports/work.ts';
import { namesOf } from '../../db/names.ts';
import type { Shop } from '../../shop.ts';

const DAY_MS = 86_400_000;
/** One false alarm in so many days is taken. */
const ALARM_DAYS = 90;
/** So far back series are looked at; what changed before the last of these is no news. */
const BACK_DAYS = 180;
const NEWS_DAYS = 60;
/** Of each printer. */
const MOST_RUNS = 1500;
/** Less ink says nothing of how much was fired (ml). */
const LEAST_ML = 0.05;

interface Named {
  readonly what: 'time' | 'ink';
  readonly printerId: string;
  readonly printerName: string;
  /** Mode and stock, or the channel. */
  readonly of: string;
}

/** What is no longer as it was: times of a printer in a mode on a stock, and ink of a channel, against their estimates. */
export async function paceChanges(shop: Shop, how: RunHow = {}): Promise<PaceChanges> {
  const { db } = shop;
  const nowMs = shop.clock.now();
  const names = new Map<string, Named>();
  const stockNames = namesOf(db, stocks);
  const values = db
    .select()
    .from(printers)
    .all()
    .flatMap((printer) => {
      const attempts = attemptsOf(db, printer, nowMs - BACK_DAYS * DAY_MS);
      const times = attempts.map(({ row, endedMs, actualMs }): SeriesValue => {
        const series = `time ${printer.id} ${row.modeId} ${row.stockId}`;
        const mode = printer.config.modes.find(({ id }) => id === row.modeId)?.name ?? row.modeId;
        const of = `${mode}, ${stockNames.get(row.stockId) ?? row.stockId}`;
        names.set(series, { what: 'time', printerId: printer.id, printerName: printer.name, of });
        return { series, above: `time ${printer.id}`, atMs: endedMs, ratio: actualMs / row.estimateMs };
      });
      const fired = firedOf(
        db,
        printer.id,
        attempts.map(({ row }) => row.runId),
      );
      const inks = attempts.flatMap(({ row, endedMs }) =>
        printer.config.channels.flatMap((channel): SeriesValue[] => {
          const meant = row.inkMl[channel.id] ?? 0;
          const ml = fired.get(`${row.runId} ${channel.id}`) ?? 0;
          if (meant < LEAST_ML || ml <= 0) return [];
          const series = `ink ${printer.id} ${channel.id}`;
          names.set(series, { what: 'ink', printerId: printer.id, printerName: printer.name, of: channel.name });
          return [{ series, above: series, atMs: endedMs, ratio: ml / meant }];
        }),
      );
      return [...times, ...inks];
    })
    .sort((a, b) => a.atMs - b.atMs);
  const latelyMs = nowMs - NEWS_DAYS * DAY_MS;
  const found = await shop.work.run('pace changes', { values, asked: { nowMs, days: ALARM_DAYS, latelyMs } }, how);
  const { changes, values: count } = found;
  return {
    falseAlarmDays: ALARM_DAYS,
    values: count,
    changes: changes.flatMap(({ series, sinceMs, seenMs, share, count: runCount }) => {
      const named = names.get(series);
      return named ? [{ ...named, sinceMs, seenMs, share, runs: runCount }] : [];
    }),
  };
}

/** Runs of a printer that were printed at the first go and without standing, the oldest first. */
function attemptsOf(db: Reader, { id, config }: typeof printers.$inferSelect, fromMs: number) {
  // Where a person loads each piece every run stops between them: that is part of the estimate.
  const byHand = config.sources.every(({ kind }) => kind === 'bed');
  return db
    .select({
      runId: runAttempts.runId,
      modeId: runAttempts.modeId,
      stockId: runAttempts.stockId,
      estimateMs: runAttempts.estimateMs,
      startedMs: runAttempts.startedMs,
      endedMs: runAttempts.endedMs,
      pausedMs: runAttempts.pausedMs,
      inkMl: runs.inkMl,
    })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .where(
      and(
        eq(runAttempts.printerId, id),
        gt(runAttempts.endedMs, fromMs),
        eq(runAttempts.outcome, 'printed'),
        eq(runAttempts.attempt, 1),
      ),
    )
    .orderBy(desc(runAttempts.endedMs))
    .limit(MOST_RUNS)
    .all()
    .reverse()
    .flatMap((row) => {
      const { startedMs, endedMs, pausedMs, estimateMs } = row;
      if (startedMs === null || endedMs === null || estimateMs <= 0 || (!byHand && pausedMs > 0)) return [];
      return [{ row, endedMs, actualMs: endedMs - startedMs }];
    });
}

/** What runs fired of each channel (ml), by run and channel. */
function firedOf(db: Reader, printerId: string, runIds: readonly string[]): Map<string, number> {
  const rows = batches(runIds).flatMap((ids) =>
    db
      .select({ runId: inkLedger.runId, channelId: inkLedger.channelId, ml: inkLedger.ml })
      .from(inkLedger)
      .where(and(eq(inkLedger.printerId, printerId), inArray(inkLedger.runId, ids)))
      .all(),
  );
  const fired = new Map<string, number>();
  for (const { runId, channelId, ml } of rows) {
    const key = `${runId ?? ''} ${channelId}`;
    fired.set(key, (fired.get(key) ?? 0) - ml);
  }
  return fired;
}
