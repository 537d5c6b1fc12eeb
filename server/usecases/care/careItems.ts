import { and, asc, desc, eq, gte, inArray, lt, or, sql } from 'drizzle-orm';
import type { CareItemView } from '../../../contract/api/care.ts';
import { type Actor, PROGRAM, timer } from '../../../core/events/actor.ts';
import type { CareWhat } from '../../../core/care/careData.ts';
import { isLate, latestStartMs } from '../../../core/care/purgeRule.ts';
import { CARE_STATES_ON_PRINTER, type CareAction, careStatesBefore, nextCareState } from '../../../core/flow/care.ts';
import { careItems } from '../../db/tables/careTables.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { carePrinter, careWork, designRow } from './careWork.ts';

export type CareRow = typeof careItems.$inferSelect;
type PrinterRow = typeof printers.$inferSelect;

const HOUR = 3_600_000;
/** Care that a person starts may wait so long for its printer. */
const BY_HAND_MS = 12 * HOUR;

const careById = prepared((db) =>
  db
    .select()
    .from(careItems)
    .where(eq(careItems.id, sql.placeholder('id')))
    .prepare(),
);
const careInLine = prepared((db) =>
  db
    .select()
    .from(careItems)
    .where(
      and(
        eq(careItems.printerId, sql.placeholder('printerId')),
        inArray(careItems.state, ['waiting', ...CARE_STATES_ON_PRINTER]),
      ),
    )
    .orderBy(asc(careItems.dueMs), asc(careItems.seq))
    .prepare(),
);

/** A piece of care by its id, or `undefined` where there is none. */
export function findCare(db: Reader, id: string): CareRow | undefined {
  return careById(db).get({ id });
}

/** What stands in a printer's line, the present first, then by its due instant. */
export function careLine(db: Reader, printerId: string): CareRow[] {
  const rows = careInLine(db).all({ printerId });
  return rows.sort((a, b) => Number(a.state === 'waiting') - Number(b.state === 'waiting'));
}

/**
 * The latest start of care on a printer (ms): a purge no later than when one of its channels becomes overdue.
 * @param known when its channels were exercised (ms)
 */
export function latestStartOf(
  { config }: Pick<PrinterRow, 'config'>,
  { what, inkMl }: Pick<CareRow, 'what' | 'inkMl'>,
  dueMs: number,
  slackMs: number,
  known: Readonly<Record<string, number>>,
): number {
  if (what.kind !== 'purge') return latestStartMs(dueMs, slackMs, []);
  const overdue = config.channels.flatMap(({ id, idleLimitH }) =>
    (inkMl[id] ?? 0) > 0 && known[id] !== undefined ? [known[id] + idleLimitH * HOUR] : [],
  );
  return Math.round(latestStartMs(dueMs, slackMs, overdue));
}

/** Puts care into a printer's line; an occurrence of a timer that is in it already stays as it is. @returns its row if it is new */
export function addCare(
  work: Work,
  printer: PrinterRow,
  what: CareWhat,
  when: {
    readonly timerId: string | null;
    readonly dueMs: number;
    readonly slackMs: number;
    /** What it comes before, and by which rule; left out: nothing. */
    readonly before?: { readonly runId: string; readonly ruleId: string | null };
    /** Let go first at once, before it is due. */
    readonly early?: boolean;
  },
): CareRow | undefined {
  const { tx } = work;
  const { title, durationMs, inkMl, fedMm } = careWork(tx, printer, what);
  const row = tx
    .insert(careItems)
    .values({
      id: newId('care'),
      printerId: printer.id,
      what,
      title,
      timerId: when.timerId,
      runId: when.before?.runId ?? null,
      ruleId: when.before?.ruleId ?? null,
      dueMs: Math.floor(when.dueMs),
      earlyMs: when.early ? Math.floor(work.nowMs) : null,
      latestMs: latestStartOf(printer, { what, inkMl }, when.dueMs, when.slackMs, exercisedMs(tx, printer)),
      state: 'waiting',
      estimateMs: durationMs,
      inkMl,
      savedMl: {},
      fedMm,
    })
    .onConflictDoNothing()
    .returning()
    .get() as CareRow | undefined;
  if (row) work.touch({ type: 'printer', id: printer.id });
  return row;
}

/** The one way in which care changes state. Refused with the state that it is in. */
export function transitionCare(
  work: Work,
  careId: string,
  action: CareAction,
  changes: Partial<CareRow> = {},
): CareRow {
  const row = findCare(work.tx, careId);
  if (!row) throw new Refused(404, 'no-such-care', `There is no care ${careId}.`);
  const next = nextCareState(row.state, action);
  if (!next.ok) {
    throw new Refused(409, 'wrong-state', `The ${row.title} is ${row.state}; it can't ${action} now.`, {
      state: row.state,
    });
  }
  const moved = work.tx
    .update(careItems)
    .set({ ...changes, state: next.value })
    .where(and(eq(careItems.id, careId), inArray(careItems.state, [...careStatesBefore(action)])))
    .returning()
    .get();
  work.touch({ type: 'printer', id: row.printerId });
  return moved;
}

/** It can't be done: says why, once. */
export function giveUpCare(shop: Shop, careId: string, reason: string): void {
  transact(shop, (work) => {
    const moved = transitionCare(work, careId, 'give up', { endedMs: work.nowMs, reason });
    const printer = printerOfCare(work.tx, moved);
    const data = { care: moved.title, printer: printer.name, reason };
    work.note({ kind: 'care.missed', subject: ['printer', printer.id], actor: PROGRAM, data });
  });
}

/** It need not be done: the ink that it would have fired is saved. */
export function skipCare(shop: Shop, row: CareRow, reason: string): void {
  transact(shop, (work) => {
    const moved = transitionCare(work, row.id, 'skip', { endedMs: work.nowMs, reason, savedMl: row.inkMl });
    const ml = Object.values(row.inkMl).reduce((sum, each) => sum + each, 0);
    work.note({
      kind: 'care.skipped',
      subject: ['printer', row.printerId],
      actor: timer(row.timerId ?? row.id, row.title),
      data: { care: moved.title, printer: printerOfCare(work.tx, moved).name, reason, ml },
    });
  });
}

/** A person wants care now: it comes before the runs that wait. */
export function startCare(shop: Shop, printerId: string, what: CareWhat, actor: Actor): string {
  const id = transact(shop, (work) => {
    const printer = carePrinter(work.tx, printerId);
    if (what.kind === 'release') {
      throw new Refused(
        422,
        'only-by-timer',
        'A run is released by a timer.',
        undefined,
        'Take its fixed start off to let it go now.',
      );
    }
    const row = addCare(work, printer, what, { timerId: null, dueMs: work.nowMs, slackMs: BY_HAND_MS });
    if (!row) throw new Refused(409, 'twice', 'That is in the line already.');
    work.note({
      kind: 'care.wanted',
      subject: ['printer', printerId],
      actor,
      data: { care: row.title, printer: printer.name },
    });
    return row.id;
  });
  shop.wakeDispatcher();
  return id;
}

/** Takes care that has not begun out of its line. */
export function cancelWaitingCare(shop: Shop, careId: string, actor: Actor): void {
  transact(shop, (work) => {
    const row = findCare(work.tx, careId);
    if (row && row.state !== 'waiting') {
      throw new Refused(
        409,
        'wrong-state',
        `The ${row.title} is ${row.state}; only care that waits can be taken out.`,
        { state: row.state },
      );
    }
    const moved = transitionCare(work, careId, 'cancel', { endedMs: work.nowMs, reason: 'taken out of the line' });
    const printer = carePrinter(work.tx, moved.printerId);
    work.note({
      kind: 'care.cancelled',
      subject: ['printer', printer.id],
      actor,
      data: { care: moved.title, printer: printer.name },
    });
  });
  shop.wakeDispatcher();
}

/** Care of a span of time, and all that waits, in the order of time. */
export function careBetween(db: Reader, fromMs: number, toMs: number): CareRow[] {
  return db
    .select()
    .from(careItems)
    .where(
      or(
        and(gte(careItems.dueMs, fromMs), lt(careItems.dueMs, toMs)),
        // Let go first before it was due.
        and(gte(careItems.earlyMs, fromMs), lt(careItems.earlyMs, toMs)),
        inArray(careItems.state, ['waiting', ...CARE_STATES_ON_PRINTER]),
      ),
    )
    .orderBy(desc(careItems.dueMs), desc(careItems.seq))
    .limit(2000)
    .all()
    .reverse();
}

export function careView(row: CareRow): CareItemView {
  const {
    seq: _seq,
    attempt: _attempt,
    reportSeq: _report,
    savedMl,
    spoolId: _spool,
    msLeft: _left,
    progressMs: _at,
    ruleId: _rule,
    ...rest
  } = row;
  return {
    ...rest,
    what: row.what as CareItemView['what'],
    late: row.startedMs !== null && isLate(row.startedMs, row.latestMs),
    savedMl: Object.values(savedMl).reduce((sum, ml) => sum + ml, 0),
  };
}

/** Whether a design says that only the channels that need it are fired. */
export function onlyNeeded(db: Reader, what: CareWhat): boolean {
  return what.kind === 'purge' && designRow(db, what.designId).onlyNeeded;
}

/** When care may begin: when it is due, or was let go first. */
export function mayBeginMs({ earlyMs, dueMs }: Pick<CareRow, 'earlyMs' | 'dueMs'>): number {
  return earlyMs ?? dueMs;
}

/** A printer by care, which outlives neither. */
export function printerOfCare(db: Reader, row: CareRow): PrinterRow {
  const printer = findPrinter(db, row.printerId);
  if (!printer) throw new Error(`no printer ${row.printerId}`);
  return printer;
}
