import { signedInName } from '../../../core/events/actor.ts';
import { and, asc, eq } from 'drizzle-orm';
import type { TimerBody, TimerChange, TimerView } from '../../../contract/api/care.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { type Recurrence, checkRecurrence } from '../../../core/care/rule.ts';
import { recurrenceText } from '../../../core/care/timerText.ts';
import type { CareWhat } from '../../../core/care/careData.ts';
import { wallTimeOf } from '../../../core/care/wallTime.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { timers } from '../../db/tables/careTables.ts';
import { findRun } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { designFor } from './designs.ts';
import { mustBeSameVersion } from './sameVersion.ts';
import { carePrinter, careWork } from './careWork.ts';

export type TimerRow = typeof timers.$inferSelect;

/** A timer by its id. @throws Refused where there is none */
export function timerRow(db: Reader, id: string): TimerRow {
  const row = db.select().from(timers).where(eq(timers.id, id)).get();
  if (!row) throw new Refused(404, 'no-such-timer', `There is no timer ${id}.`);
  return row;
}

export function timerView(db: Reader, { changedBy: _by, ...row }: TimerRow): TimerView {
  const title = careWork(db, carePrinter(db, row.printerId), row.what).title;
  return { ...row, what: row.what as TimerView['what'], text: recurrenceText(row), title };
}

/** All timers, those of a printer together. */
export function timerViews(db: Reader): TimerView[] {
  const rows = db.select().from(timers).orderBy(asc(timers.printerId), asc(timers.startLocal), asc(timers.id)).all();
  return rows.map((row) => timerView(db, row));
}

/** A rule, a start and an end that a timer can have. */
function mustComeRound(recurrence: Recurrence): void {
  const answer = checkRecurrence(recurrence);
  if (answer.ok) return;
  const { code, part, text } = answer.reason;
  throw new Refused(422, code, text, { part }, 'Choose another time.');
}

function nextAfter(shop: Shop, row: Recurrence, afterMs: number): number | null {
  return occurrencesAfter(row, shop.clock.zone, afterMs, { count: 1 })[0] ?? null;
}

/**
 * Makes one timer for each printer; they share a group. A purge is copied to those that have none of its name, where that is asked for.
 * @returns their ids
 */
export function createTimers(shop: Shop, { printerIds, copyDesigns, ...body }: TimerBody, actor: Actor): string[] {
  mustComeRound(body);
  return transact(shop, (work) => {
    const groupId = newId('group');
    return [...new Set(printerIds)].map((printerId) => {
      const printer = carePrinter(work.tx, printerId);
      const asked = body.what as CareWhat;
      const what =
        asked.kind === 'purge' && copyDesigns
          ? { ...asked, designId: designFor(work, asked.designId, printerId, actor) }
          : asked;
      const { title } = careWork(work.tx, printer, what);
      mustBeHeld(work, what, printer);
      const id = newId('timer');
      const nextMs = nextAfter(shop, body, work.nowMs);
      work.tx
        .insert(timers)
        .values({ ...body, what, id, groupId, printerId, nextMs })
        .run();
      noted(work, 'timer.made', printerId, title, body, actor);
      return id;
    });
  });
}

/** Only a run that waits for its time in the line of this printer can be released by a timer. */
function mustBeHeld({ tx }: Work, what: CareWhat, printer: ReturnType<typeof carePrinter>): void {
  if (what.kind !== 'release') return;
  const run = findRun(tx, what.runId);
  if (run?.state === 'queued' && run.fixedStartMs !== null && run.printerId === printer.id) return;
  throw new Refused(
    409,
    'not-held',
    `Only a run that is queued on ${printer.name} and waits for a fixed start can be released.`,
    undefined,
    'Queue it and give it a fixed start that is late enough.',
  );
}

/**
 * Changes a timer; what it has put into a line stays there.
 * @param ifVersion the version that the change was made from; undefined: any
 */
export function changeTimer(
  shop: Shop,
  id: string,
  change: TimerChange,
  ifVersion: number | undefined,
  actor: Actor,
): void {
  transact(shop, (work) => {
    changeWithin(shop, work, id, change, ifVersion, actor);
  });
}

function changeWithin(
  shop: Shop,
  work: Work,
  id: string,
  change: TimerChange,
  ifVersion: number | undefined,
  actor: Actor,
): void {
  const before = timerRow(work.tx, id);
  mustBeSameVersion('timer', before, ifVersion);
  const next = { ...before, ...change, what: change.what ?? before.what };
  mustComeRound(next);
  const printer = carePrinter(work.tx, before.printerId);
  const { title } = careWork(work.tx, printer, next.what);
  if (change.what) mustBeHeld(work, next.what, printer);
  const nextMs = nextAfter(shop, next, work.nowMs);
  work.tx
    .update(timers)
    .set({ ...next, nextMs, version: before.version + 1, changedBy: signedInName(actor) })
    .where(and(eq(timers.id, id), eq(timers.version, before.version)))
    .run();
  const kind = before.paused === next.paused ? 'timer.changed' : next.paused ? 'timer.paused' : 'timer.goes-on';
  const { what, rrule, startLocal, untilLocal, skipHolidays, missed, slackMin, paused } = before;
  noted(work, kind, before.printerId, title, next, actor, {
    label: 'Undo',
    method: 'PATCH',
    path: `/api/timers/${id}`,
    body: { what, rrule, startLocal, untilLocal, skipHolidays, missed, slackMin, paused },
  });
}

/** Pauses all timers of a printer, or lets them go on. */
export function pauseTimersOf(shop: Shop, printerId: string, paused: boolean, actor: Actor): void {
  transact(shop, (work) => {
    const rows = work.tx.select().from(timers).where(eq(timers.printerId, printerId)).all();
    for (const row of rows) if (row.paused !== paused) changeWithin(shop, work, row.id, { paused }, undefined, actor);
  });
}

/** Removes a timer; what it has put into a line stays there. */
export function removeTimer(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const row = timerRow(work.tx, id);
    const { title } = careWork(work.tx, carePrinter(work.tx, row.printerId), row.what);
    work.tx.delete(timers).where(eq(timers.id, id)).run();
    const { what, rrule, startLocal, untilLocal, skipHolidays, missed, slackMin, paused, printerId } = row;
    noted(work, 'timer.removed', printerId, title, row, actor, {
      label: 'Undo',
      method: 'POST',
      path: '/api/timers',
      body: { printerIds: [printerId], what, rrule, startLocal, untilLocal, skipHolidays, missed, slackMin, paused },
    });
  });
}

function noted(
  work: Work,
  kind: 'timer.made' | 'timer.changed' | 'timer.paused' | 'timer.goes-on' | 'timer.removed',
  printerId: string,
  title: string,
  recurrence: Recurrence,
  actor: Actor,
  undo?: Parameters<Work['note']>[0]['undo'],
): void {
  const printer = carePrinter(work.tx, printerId).name;
  const data = { care: title, printer, when: recurrenceText(recurrence) };
  work.note({ kind, subject: ['printer', printerId], actor, data, ...(undo ? { undo } : {}) });
  work.touch({ type: 'printer', id: printerId });
}

/** The next occurrences of a timer, those of holidays marked. */
export function nextOccurrences(
  shop: Shop,
  row: Recurrence & Pick<TimerRow, 'skipHolidays'>,
  count: number,
): { atMs: number; atLocal: string; holiday: boolean }[] {
  const { zone } = shop.clock;
  const isHoliday = holidayTest(shop);
  return occurrencesAfter(row, zone, shop.clock.now(), { count }).map((atMs) => ({
    atMs,
    atLocal: wallTimeOf(atMs, zone),
    holiday: row.skipHolidays && isHoliday(atMs),
  }));
}

/** Tells whether the shop is closed on the day of an instant. */
export function holidayTest(shop: Shop): (ms: number) => boolean {
  const { zone } = shop.clock;
  const closed = new Set(shopSetup(shop.db, zone).holidays.map(({ date }) => date));
  return (ms) => closed.has(wallTimeOf(ms, zone).slice(0, 10));
}
