import { and, eq, inArray, lt, lte } from 'drizzle-orm';
import { missedOccurrences } from '../../../core/care/purgeRule.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { timer } from '../../../core/events/actor.ts';
import { careItems, timers } from '../../db/tables/careTables.ts';
import { findPrinter, findRun } from '../../db/findRows.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import { type CareRow, addCare, giveUpCare, transitionCare } from './careItems.ts';
import { carePrinter } from './careWork.ts';
import { type TimerRow, holidayTest } from './timers.ts';

/** Of more that were missed, the earlier ones are not told one by one. */
const MOST_MISSED = 200;
/** Looks come twice a second: what is later than this was missed. */
const ON_TIME_MS = 60_000;

/** Puts into the lines what has fallen due since the last look, however long ago that was. */
export function putDueCare(shop: Shop): void {
  const nowMs = shop.clock.now();
  const due = shop.db
    .select({ id: timers.id })
    .from(timers)
    .where(and(eq(timers.paused, false), lte(timers.nextMs, nowMs)))
    .all();
  for (const { id } of due) {
    transact(shop, (work) => {
      const row = work.tx.select().from(timers).where(eq(timers.id, id)).get();
      if (row && !row.paused && row.nextMs !== null && row.nextMs <= work.nowMs) fallsDue(shop, work, row, row.nextMs);
    });
  }
  giveUpStuck(shop);
  if (due.length > 0) shop.wakeDispatcher();
}

/** One timer: what is on time goes into the line, what was missed is made up or told; then it is set to its next occurrence. */
function fallsDue(shop: Shop, work: Work, row: TimerRow, firstMs: number): void {
  const { zone } = shop.clock;
  const { nowMs } = work;
  const all = [firstMs, ...occurrencesAfter(row, zone, firstMs, { beforeMs: nowMs + 1, known: firstMs })].slice(
    -MOST_MISSED,
  );
  const nextMs = occurrencesAfter(row, zone, nowMs, { count: 1, known: firstMs })[0] ?? null;
  const isHoliday = holidayTest(shop);
  const open = row.skipHolidays ? all.filter((ms) => !isHoliday(ms)) : all;
  const slackMs = Math.max(ON_TIME_MS, row.slackMin * 60_000);
  const last = open.at(-1);
  const onTime = last !== undefined && nowMs - last <= slackMs;
  const missed = onTime ? open.slice(0, -1) : open;
  const { makeUpMs, reportedMs } = onTime
    ? { makeUpMs: null, reportedMs: missed }
    : missedOccurrences(missed, nextMs, nowMs, row.missed);
  for (const ms of all) {
    const holiday = !open.includes(ms);
    const reported = reportedMs.includes(ms);
    const wanted = ms === last && onTime ? slackMs : ms === makeUpMs ? nowMs - ms + slackMs : 0;
    put(work, row, ms, holiday ? 'holiday' : reported ? 'missed' : 'wanted', wanted);
  }
  work.tx.update(timers).set({ nextMs }).where(eq(timers.id, row.id)).run();
  work.touch({ type: 'printer', id: row.printerId });
}

function put(work: Work, row: TimerRow, dueMs: number, how: 'wanted' | 'holiday' | 'missed', slackMs: number): void {
  const printer = carePrinter(work.tx, row.printerId);
  const care = addCare(work, printer, row.what, { timerId: row.id, dueMs, slackMs });
  if (!care) return;
  const actor = timer(row.id, care.title);
  const said = { care: care.title, printer: printer.name };
  if (how === 'holiday') {
    transitionCare(work, care.id, 'skip', { endedMs: work.nowMs, reason: 'holiday' });
    work.note({
      kind: 'care.skipped',
      subject: ['printer', printer.id],
      actor,
      data: { ...said, reason: 'holiday', ml: 0 },
    });
  } else if (how === 'missed') {
    const reason = 'it fell due while the program was not running';
    transitionCare(work, care.id, 'give up', { endedMs: work.nowMs, reason });
    work.note({ kind: 'care.missed', subject: ['printer', printer.id], actor, data: { ...said, reason } });
  } else if (row.what.kind === 'release') release(work, care, row.what.runId);
}

/** The run may start when its turn comes. */
function release(work: Work, care: CareRow, runId: string): void {
  const run = findRun(work.tx, runId);
  const waits = run?.state === 'queued' && run.fixedStartMs !== null;
  const actor = timer(care.timerId ?? care.id, care.title);
  if (!run || !waits) {
    const reason = run ? `the run is ${run.state}` : 'the run is gone';
    transitionCare(work, care.id, 'give up', { endedMs: work.nowMs, reason });
    return;
  }
  work.tx.update(runs).set({ fixedStartMs: null }).where(eq(runs.id, runId)).run();
  work.touch({ type: 'run', id: runId });
  transitionCare(work, care.id, 'send');
  transitionCare(work, care.id, 'finish', { startedMs: work.nowMs, endedMs: work.nowMs });
  work.note({ kind: 'run.start-fixed', subject: ['run', runId], actor, data: { run: run.number, startMs: null } });
}

const STOPPED = ['faulted', 'waiting', 'off'] as const;

/** Care whose printer can't do it is waited for until its latest start; then it is told, with what was in the way. */
function giveUpStuck(shop: Shop): void {
  const rows = shop.db
    .select({ care: careItems, status: printers.linkStatus })
    .from(careItems)
    .innerJoin(printers, eq(printers.id, careItems.printerId))
    .where(
      and(
        eq(careItems.state, 'waiting'),
        lt(careItems.dueMs, shop.clock.now()),
        lt(careItems.latestMs, shop.clock.now()),
        inArray(printers.linkStatus, [...STOPPED]),
      ),
    )
    .all();
  for (const { care } of rows) {
    const printer = findPrinter(shop.db, care.printerId);
    giveUpCare(
      shop,
      care.id,
      `${printer?.name ?? 'the printer'}: ${printer?.linkReason ?? printer?.linkStatus ?? 'off'}`,
    );
  }
}
