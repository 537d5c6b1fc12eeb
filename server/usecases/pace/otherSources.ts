import { and, count, desc, eq, gte, lt, sql } from 'drizzle-orm';
import { type Amounts, type Fact, NL_PER_ML } from '../../../core/pace/quantities.ts';
import { careItems } from '../../db/tables/careTables.ts';
import type { Reader } from '../../db/open.ts';
import { events, pieceOutcomes, printerSpells, spoolLedger } from '../../db/tables/records.ts';
import { jobs, runs } from '../../db/tables/schema.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import { joinSpans, within } from '../../../core/schedule/spans.ts';
import { armedThen, attendedThen } from './hoursHistory.ts';

/** No care takes longer; a device whose clock is wrong may say so. */
const LONGEST_CARE_MS = 86_400_000;
const NO_KEYS = { stockId: '', queueId: '', modeId: '', customer: '', runId: '', jobId: '' } as const;

/** What a printer's state counts as. Runs bring their time themselves. */
const SPELLS: Readonly<Record<string, 'caringMs' | 'waitingMs' | 'idleMs' | 'downMs' | 'offMs'>> = {
  caring: 'caringMs',
  waiting: 'waitingMs',
  idle: 'idleMs',
  faulted: 'downMs',
  off: 'offMs',
};

type SpellRow = typeof printerSpells.$inferSelect;

/** What a spell comes to until an instant; undefined: it is run time, which attempts bring. */
export function spellAmounts(
  db: Reader,
  { state, fromMs }: Pick<SpellRow, 'state' | 'fromMs'>,
  toMs: number,
): Amounts | undefined {
  const counts = SPELLS[state];
  if (counts === undefined || toMs < fromMs) return undefined;
  const amounts: Amounts = { [counts]: toMs - fromMs };
  if (counts !== 'downMs' && counts !== 'waitingMs') return amounts;
  const planned = joinSpans(attendedThen(db, fromMs, toMs), armedThen(db, fromMs, toMs));
  return { ...amounts, lostMs: Math.round(within(fromMs, toMs, planned)), ...(counts === 'downMs' && { faults: 1 }) };
}

export function spellFacts(db: Reader, key: string): Fact[] {
  const row = db
    .select()
    .from(printerSpells)
    .where(eq(printerSpells.id, Number(key)))
    .get();
  if (!row || row.toMs === null) return [];
  const amounts = spellAmounts(db, row, row.toMs);
  if (!amounts) return [];
  const { printerId, fromMs, toMs } = row;
  return [{ ...NO_KEYS, id: `spell/${key}`, kind: 'spell', fromMs, toMs, printerId, amounts }];
}

const INK: Readonly<Record<string, 'purgeNl' | 'cleanNl' | 'checkNl'>> = {
  purge: 'purgeNl',
  clean: 'cleanNl',
  check: 'checkNl',
  feed: 'checkNl',
};

/** Ink and media of care that has ended. */
export function careFacts(db: Reader, key: string): Fact[] {
  const row = db.select().from(careItems).where(eq(careItems.id, key)).get();
  if (!row || row.endedMs === null || row.startedMs === null) return [];
  const { kind } = row.what;
  const booked = db
    .select({ mm: spoolLedger.mm, widthMm: spools.widthMm, stockWidthMm: stocks.widthMm, stockId: spools.stockId })
    .from(spoolLedger)
    .innerJoin(spools, eq(spools.id, spoolLedger.spoolId))
    .innerJoin(stocks, eq(stocks.id, spools.stockId))
    .where(eq(spoolLedger.runId, key))
    .all();
  const fedMm2 = Math.round(
    booked.reduce((sum, { mm, widthMm, stockWidthMm }) => sum - mm * (widthMm ?? stockWidthMm), 0),
  );
  const ml = Object.values(row.inkMl).reduce((sum, each) => sum + each, 0);
  const ink = INK[kind];
  const amounts: Amounts = {
    fedMm2,
    [kind === 'check' || kind === 'feed' ? 'checkMm2' : 'purgeMm2']: fedMm2,
    ...(ink && { [ink]: Math.round(ml * NL_PER_ML) }),
  };
  const { printerId, endedMs } = row;
  const startedMs = Math.max(row.startedMs, endedMs - LONGEST_CARE_MS);
  const stockId = booked[0]?.stockId ?? '';
  return [
    { ...NO_KEYS, id: `care/${key}`, kind: 'care', fromMs: startedMs, toMs: endedMs, printerId, stockId, amounts },
  ];
}

/** Media that was thrown away, or came back after all. */
export function ledgerFacts(db: Reader, key: string): Fact[] {
  const row = db
    .select({
      mm: spoolLedger.mm,
      atMs: spoolLedger.atMs,
      widthMm: spools.widthMm,
      stockWidthMm: stocks.widthMm,
      stockId: stocks.id,
    })
    .from(spoolLedger)
    .innerJoin(spools, eq(spools.id, spoolLedger.spoolId))
    .innerJoin(stocks, eq(stocks.id, spools.stockId))
    .where(eq(spoolLedger.id, Number(key)))
    .get();
  if (!row) return [];
  const { mm, atMs, widthMm, stockWidthMm, stockId } = row;
  const stubMm2 = Math.round(-mm * (widthMm ?? stockWidthMm));
  const amounts = { stubMm2 };
  return [
    { ...NO_KEYS, id: `ledger/${key}`, kind: 'ledger', fromMs: atMs, toMs: atMs, printerId: '', stockId, amounts },
  ];
}

/** Whether a job that is over was in time; it counts at its date. */
export function jobFacts(db: Reader, key: string): Fact[] {
  const job = db.select().from(jobs).where(eq(jobs.id, key)).get();
  const dueMs = job?.ticket.values.dueMs ?? null;
  if (!job || dueMs === null || job.pastSeq === null || job.state === 'cancelled') return [];
  const last = db
    .select({ atMs: pieceOutcomes.atMs })
    .from(pieceOutcomes)
    .where(and(eq(pieceOutcomes.jobId, key), eq(pieceOutcomes.outcome, 'printed')))
    .orderBy(desc(pieceOutcomes.atMs))
    .limit(1)
    .get();
  if (!last) return [];
  const lateMs = Math.max(0, Math.round(last.atMs - dueMs));
  const amounts: Amounts = { jobsDue: 1, jobsLate: lateMs > 0 ? 1 : 0, lateMs };
  const { queueId } = job;
  const customer = job.ticket.values.customer ?? '';
  return [
    {
      ...NO_KEYS,
      id: `job/${key}`,
      kind: 'job',
      fromMs: dueMs,
      toMs: dueMs,
      printerId: '',
      queueId,
      customer,
      jobId: key,
      amounts,
    },
  ];
}

/** Actions are counted by so much of the clock. */
const ACTIONS_MS = 3_600_000;

/**
 * What people did in an hour, counted for the printer that it was done on, or on whose run; what is about neither belongs to none.
 * @param key the hour, counted from the beginning of time
 */
export function actionFacts(db: Reader, key: string): Fact[] {
  const fromMs = Number(key) * ACTIONS_MS;
  const rows = db
    .select({ subject: events.subjectType, subjectId: events.subjectId, ofRun: runs.printerId, actions: count() })
    .from(events)
    .leftJoin(runs, and(eq(events.subjectType, 'run'), eq(runs.id, events.subjectId)))
    .where(and(sql`${events.actorKind} = 'person'`, gte(events.atMs, fromMs), lt(events.atMs, fromMs + ACTIONS_MS)))
    .groupBy(events.subjectType, events.subjectId)
    .all();
  const byPrinter = new Map<string, number>();
  for (const { subject, subjectId, ofRun, actions } of rows) {
    const printerId = subject === 'printer' ? subjectId : (ofRun ?? '');
    byPrinter.set(printerId, (byPrinter.get(printerId) ?? 0) + actions);
  }
  return [...byPrinter].map(([printerId, actions]) => ({
    ...{ ...NO_KEYS, id: `actions/${key}/${printerId}`, kind: 'actions', fromMs, toMs: fromMs, printerId },
    amounts: { actions },
  }));
}
