import { timeAsItGoes } from '../../../core/estimate/learnedPrinter.ts';
import { eq } from 'drizzle-orm';
import { callsForCare } from '../../../core/care/careRule.ts';
import { careBeforeRun } from '../../../core/care/purgeRule.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { type Actor, timer } from '../../../core/events/actor.ts';
import { careItems, timers } from '../../db/tables/careTables.ts';
import { feedingOf } from '../../db/feeding.ts';
import { type PrinterBase, printerViews } from '../../db/printerViews.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { addCare } from './careItems.ts';
import { activeRules, careRuleRow } from './careRules.ts';
import { carePrinter } from './careWork.ts';
import { asCare, plannedCare, plannedRules } from './plannedCare.ts';
import { timerRow } from './timers.ts';

/**
 * Puts into the line what comes before a run that could start now: care of a timer that the run would keep beyond its latest start,
 * and what rules ask for. Each is done once before a run, whatever comes of it.
 * @returns whether there is any; the run then waits until it has ended
 */
export function putCareBefore(shop: Shop, run: RunRow): boolean {
  const ruled = {
    outMm: feedingOf(shop.db)(run).byHand ? 0 : run.lengthMm,
    important: run.important,
    inkMl: run.inkMl,
  };
  const [printer] = printerViews(shop.db, run.printerId);
  if (!printer) return false;
  const rules = plannedRules(shop.db, activeRules(shop.db), printer).filter(
    (rule) => !rule.doneFor.includes(run.id) && callsForCare(rule, ruled),
  );
  const first = firstOfTimers(shop, printer, run);
  if (rules.length === 0 && first.length === 0) return false;
  return transact(shop, (work) => {
    const timed = first.map((care) => goFirst(shop, work, care, run));
    const asked = rules.map(({ id }) => ask(work, id, run));
    return [...timed, ...asked].some(Boolean);
  });
}

/** An occurrence that has not fallen due. */
interface Coming {
  readonly timerId: string;
  readonly dueMs: number;
}

/** Timers whose next care the run would keep too long, those left out that went before it already. */
function firstOfTimers(shop: Shop, printer: PrinterBase, run: RunRow): Coming[] {
  const nowMs = shop.clock.now();
  const care = plannedCare(shop, printer, nowMs);
  if (!care.some(({ timerId }) => timerId !== null)) return [];
  const estimateMs = timeAsItGoes(run.estimateMs, printer.learned, run.ticket.modeId, run.ticket.stockId);
  const gone = shop.db
    .select({ timerId: careItems.timerId })
    .from(careItems)
    .where(eq(careItems.runId, run.id))
    .all()
    .map(({ timerId }) => timerId);
  return careBeforeRun(care, nowMs, estimateMs, () => false)
    .flatMap((at) => care[at] ?? [])
    .flatMap(({ timerId, fromMs }) => (timerId === null || gone.includes(timerId) ? [] : [{ timerId, dueMs: fromMs }]));
}

/** The next occurrence of a timer is done now, and the timer set to the one behind it. */
function goFirst(shop: Shop, work: Work, { timerId, dueMs }: Coming, run: RunRow): boolean {
  const row = timerRow(work.tx, timerId);
  if (row.paused || row.nextMs === null || row.nextMs > dueMs) return false;
  const printer = carePrinter(work.tx, run.printerId);
  const care = addCare(work, printer, row.what, {
    ...{ timerId, dueMs, slackMs: row.slackMin * 60_000 },
    ...{ before: { runId: run.id, ruleId: null }, early: true },
  });
  const nextMs = occurrencesAfter(row, shop.clock.zone, dueMs, { count: 1, known: dueMs })[0] ?? null;
  work.tx.update(timers).set({ nextMs }).where(eq(timers.id, timerId)).run();
  if (care) noted(work, 'care.first', care.title, printer, run, timer(timerId, care.title));
  return care !== undefined;
}

function ask(work: Work, ruleId: string, run: RunRow): boolean {
  const printer = carePrinter(work.tx, run.printerId);
  const rule = careRuleRow(work.tx, ruleId);
  const care = addCare(work, printer, asCare(rule.what, printer, run.inkMl), {
    ...{ timerId: null, dueMs: work.nowMs, slackMs: 0 },
    before: { runId: run.id, ruleId },
  });
  if (care) noted(work, 'care.asked', care.title, printer, run, timer(ruleId, care.title));
  return care !== undefined;
}

function noted(
  work: Work,
  kind: 'care.first' | 'care.asked',
  care: string,
  printer: ReturnType<typeof carePrinter>,
  run: RunRow,
  actor: Actor,
): void {
  work.note({ kind, subject: ['printer', printer.id], actor, data: { care, printer: printer.name, run: run.number } });
}
