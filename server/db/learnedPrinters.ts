import { and, count, desc, eq, gt, inArray, isNotNull, sql } from 'drizzle-orm';
import { type LearnedFrom, type LearnedPrinter, learnedPrinter } from '../../core/estimate/learnedPrinter.ts';
import { batches } from './batches.ts';
import type { Reader } from './open.ts';
import { keptFor, prepared } from './prepared.ts';
import { printers } from './tables/floorTables.ts';
import { inkLedger, runAttempts } from './tables/records.ts';
import { runs } from './tables/schema.ts';

type PrinterRow = typeof printers.$inferSelect;

/** Runs of a printer that learning looks back on. */
const LATEST = 300;
/** One false alarm of a change is taken in so many days. */
const ALARM_MS = 90 * 86_400_000;
/** Less ink says nothing of how much was fired (ml). */
const LEAST_ML = 0.05;

interface Kept {
  /** What it was learned from: the last run that ended, and what of the printer's settings it depends on. */
  readonly of: string;
  readonly learned: LearnedPrinter;
}

const known = keptFor(() => new Map<string, Kept>());

/**
 * How a printer's runs go against their estimates. Views are made often and this takes some ms: it is worked out once after each run that
 * ends, and kept.
 */
export function learnedOf(db: Reader, printer: PrinterRow): LearnedPrinter {
  const last = lastEnded(db).get({ id: printer.id });
  const { channels, sources } = printer.config;
  const of = JSON.stringify([
    last?.runId,
    last?.endedMs,
    channels.map(({ id }) => id),
    sources.map(({ kind }) => kind),
  ]);
  const kept = known(db).get(printer.id);
  if (kept?.of === of) return kept.learned;
  const learned = learnedPrinter(outcomesOf(db, printer), valuesSince(db, (last?.endedMs ?? 0) - ALARM_MS));
  known(db).set(printer.id, { of, learned });
  return learned;
}

const lastEnded = prepared((db) =>
  db
    .select({ runId: runAttempts.runId, endedMs: runAttempts.endedMs })
    .from(runAttempts)
    .where(and(eq(runAttempts.printerId, sql.placeholder('id')), isNotNull(runAttempts.endedMs)))
    .orderBy(desc(runAttempts.endedMs))
    .limit(1)
    .prepare(),
);

/** Runs that were printed at the first go and without standing, the latest first. */
function outcomesOf(db: Reader, { id, config }: PrinterRow): LearnedFrom[] {
  // Where a person loads each piece every run stops between them: that is how long it takes there, and part of the estimate.
  const byHand = config.sources.every(({ kind }) => kind === 'bed');
  const rows = db
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
        isNotNull(runAttempts.endedMs),
        eq(runAttempts.outcome, 'printed'),
        eq(runAttempts.attempt, 1),
      ),
    )
    .orderBy(desc(runAttempts.endedMs))
    .limit(LATEST)
    .all();
  const fired = firedBy(
    db,
    id,
    rows.map(({ runId }) => runId),
  );
  return rows.flatMap(({ runId, modeId, stockId, estimateMs, startedMs, endedMs, pausedMs, inkMl }) => {
    if (startedMs === null || endedMs === null || estimateMs <= 0 || (!byHand && pausedMs > 0)) return [];
    const ink = config.channels.flatMap(({ id: channelId }): [string, number][] => {
      const meant = inkMl[channelId] ?? 0;
      const ml = fired.get(`${runId} ${channelId}`) ?? 0;
      return meant < LEAST_ML || ml <= 0 ? [] : [[channelId, ml / meant]];
    });
    return [{ modeId, stockId, time: (endedMs - startedMs) / estimateMs, ink: Object.fromEntries(ink) }];
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

/** Values that all series of the shop have yielded since then: of each run its time, and the ink of its channels. */
function valuesSince(db: Reader, sinceMs: number): number {
  return db
    .select()
    .from(printers)
    .all()
    .reduce((sum, { id, config }) => {
      const ended = endedSince(db).get({ id, sinceMs })?.n ?? 0;
      return sum + ended * (1 + config.channels.length);
    }, 0);
}

const endedSince = prepared((db) =>
  db
    .select({ n: count() })
    .from(runAttempts)
    .where(and(eq(runAttempts.printerId, sql.placeholder('id')), gt(runAttempts.endedMs, sql.placeholder('sinceMs'))))
    .prepare(),
);
