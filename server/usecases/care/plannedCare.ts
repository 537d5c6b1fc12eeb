import { and, eq, isNotNull } from 'drizzle-orm';
import type { PlannedCareView, PlannedRuleView } from '../../../contract/api/care.ts';
import { CARE_ORDER } from '../../../core/care/careData.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { careItems, timers } from '../../db/careTables.ts';
import { exercisedMs } from '../../db/exercised.ts';
import type { Reader } from '../../db/open.ts';
import { runs } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { careLine, latestStartOf, mayBeginMs } from './careItems.ts';
import { rulesOf } from './careRules.ts';
import { carePrinter, careWork } from './careWork.ts';
import { type TimerRow, holidayTest } from './timers.ts';

/** So far ahead lines are planned with the care that timers bring (ms). */
export const AHEAD_MS = 8 * 86_400_000;

/** What a timer's next occurrences are, by what they depend on: they are asked for with every view of a printer. */
const known = new Map<string, readonly number[]>();
const MOST_KNOWN = 500;

/** The next occurrences of a timer from the one that it is set to. */
function comingOf(timer: TimerRow, zone: string): readonly number[] {
  if (timer.paused || timer.nextMs === null) return [];
  const key = `${timer.id} ${String(timer.version)} ${String(timer.nextMs)} ${zone}`;
  const before = known.get(key);
  if (before) return before;
  if (known.size >= MOST_KNOWN) known.clear();
  const { nextMs } = timer;
  const list = [nextMs, ...occurrencesAfter(timer, zone, nextMs, { beforeMs: nextMs + AHEAD_MS, known: nextMs })];
  known.set(key, list);
  return list;
}

/** Timers of a printer. */
export function timersOf(db: Reader, printerId: string): TimerRow[] {
  return db.select().from(timers).where(eq(timers.printerId, printerId)).all();
}

/** The care of a printer as its line is planned with it: what stands in the line, then what its timers bring, in the order of time. */
export function plannedCare(shop: Shop, printerId: string, nowMs: number): PlannedCareView[] {
  const line = careLine(shop.db, printerId);
  const own = timersOf(shop.db, printerId);
  if (line.length + own.length === 0) return [];
  const printer = carePrinter(shop.db, printerId);
  const inLine = line.map((row) => {
    const present = CARE_STATES_ON_PRINTER.includes(row.state);
    const fromMs = mayBeginMs(row);
    const { stockId } = careWork(shop.db, printer, row.what);
    return {
      // What is under way is on the printer's own meters.
      ...(present ? { inkMl: {}, fedMm: 0 } : { inkMl: { ...row.inkMl }, fedMm: row.fedMm }),
      stockId,
      id: row.id,
      title: row.title,
      fromMs: Math.floor(present ? Math.min(nowMs, fromMs) : fromMs),
      durationMs: present ? (row.msLeft ?? row.estimateMs) : row.estimateMs,
      latestMs: row.latestMs,
      timerId: null,
    };
  });
  const isHoliday = holidayTest(shop);
  const exercised = exercisedMs(shop.db, printer);
  // What comes first at one instant stands first.
  const byKind = [...own].sort((a, b) => CARE_ORDER.indexOf(a.what.kind) - CARE_ORDER.indexOf(b.what.kind));
  const coming = byKind.flatMap((timer) => {
    const { id: timerId, what, slackMin } = timer;
    const { title, durationMs, inkMl, fedMm, stockId } = careWork(shop.db, printer, what);
    const takes = { title, durationMs, inkMl: { ...inkMl }, fedMm, stockId };
    return comingOf(timer, shop.clock.zone)
      .filter((ms) => ms <= nowMs + AHEAD_MS && !(timer.skipHolidays && isHoliday(ms)) && what.kind !== 'release')
      .map((fromMs) => {
        const latestMs = latestStartOf(shop.db, printer, { what, inkMl }, fromMs, slackMin * 60_000, exercised);
        return { id: `${timerId}@${String(fromMs)}`, ...takes, fromMs, latestMs, timerId };
      });
  });
  return [...inLine, ...coming.sort((a, b) => a.fromMs - b.fromMs)];
}

/** The rules that put care before the runs of a printer, and before which of its queued runs that has been done. */
export function plannedRules(db: Reader, printerId: string): PlannedRuleView[] {
  const printer = carePrinter(db, printerId);
  const rules = rulesOf(db, printer);
  if (rules.length === 0) return [];
  const done = db
    .select({ ruleId: careItems.ruleId, runId: runs.id })
    .from(runs)
    .innerJoin(careItems, eq(careItems.runId, runs.id))
    .where(and(eq(runs.printerId, printerId), eq(runs.state, 'queued'), isNotNull(careItems.ruleId)))
    .all();
  return rules.map(({ id, what, overMm, onlyImportant }) => {
    const { title, durationMs, inkMl, fedMm, stockId } = careWork(db, printer, asCare(what, printer));
    const takes = { title, durationMs, inkMl: { ...inkMl }, fedMm, stockId };
    const doneFor = done.filter(({ ruleId }) => ruleId === id).map(({ runId }) => runId);
    return { id, what, overMm, onlyImportant, ...takes, doneFor };
  });
}

/** What a rule asks for as care of a printer, of all its channels unless a run says which. */
export function asCare(
  what: PlannedRuleView['what'],
  { config }: Pick<ReturnType<typeof carePrinter>, 'config'>,
  inkMl?: Readonly<Record<string, number>>,
) {
  if (what.kind !== 'clean') return what;
  const all = config.channels.map(({ id }) => id);
  const fired = all.filter((id) => (inkMl?.[id] ?? 0) > 0);
  return { ...what, channelIds: fired.length > 0 ? fired : all };
}
