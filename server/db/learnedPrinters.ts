import { and, count, desc, eq, gt, isNotNull, sql } from 'drizzle-orm';
import { type LearnedPrinter, learnedPrinter } from '../../core/estimate/learnedPrinter.ts';
import { cleanAttempts } from './cleanAttempts.ts';
import type { Reader } from './open.ts';
import { keptFor, prepared } from './prepared.ts';
import { printers } from './tables/floorTables.ts';
import { runAttempts } from './tables/records.ts';

type PrinterRow = typeof printers.$inferSelect;

/** Runs of a printer that learning looks back on. */
const LATEST = 300;
/** One false alarm of a change is taken in so many days. */
const ALARM_MS = 90 * 86_400_000;
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
  const learned = learnedPrinter(
    cleanAttempts(db, printer, { most: LATEST }),
    valuesSince(db, (last?.endedMs ?? 0) - ALARM_MS),
  );
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
