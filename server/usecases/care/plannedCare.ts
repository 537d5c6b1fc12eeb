import { and, eq, isNotNull } from 'drizzle-orm';
import type { CareWhatView, PlannedCareView, PlannedRuleView } from '../../../contract/api/care.ts';
import { CARE_ORDER, type CareWhat } from '../../../core/care/careData.ts';
import type { RuleWhat } from '../../../core/care/careRule.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { careItems, timers } from '../../db/tables/careTables.ts';
import { exercisedMs } from '../../db/exercised.ts';
import type { Reader } from '../../db/open.ts';
import { runs } from '../../db/tables/schema.ts';
import type { Shop } from '../../shop.ts';
import { type CareRow, careLine, latestStartOf, mayBeginMs } from './careItems.ts';
import { type CareRuleRow, rulesOn } from './careRules.ts';
import { carePrinter, careWork } from './careWork.ts';
import { isSkipped } from './skippedCare.ts';
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
export function plannedCare(shop: Shop, printer: CaredRow, nowMs: number): PlannedCareView[] {
  const own = timersOf(shop.db, printer.id);
  const inLine = careLine(shop.db, printer.id).map((row) => plannedRow(shop, printer, row, nowMs));
  if (own.length === 0) return inLine;
  const isHoliday = holidayTest(shop);
  const exercised = exercisedMs(shop.db, carePrinter(shop.db, printer.id));
  // What comes first at one instant stands first.
  const byKind = [...own].sort((a, b) => CARE_ORDER.indexOf(a.what.kind) - CARE_ORDER.indexOf(b.what.kind));
  const coming = byKind.flatMap((timer) => {
    const { id: timerId, what, slackMin } = timer;
    if (what.kind === 'release') return [];
    const takes = takesOf(shop.db, printer, what);
    return comingOf(timer, shop.clock.zone)
      .filter((ms) => ms <= nowMs + AHEAD_MS && !(timer.skipHolidays && isHoliday(ms)))
      .map((fromMs) => ({
        id: `${timerId}@${String(fromMs)}`,
        ...takes,
        fromMs,
        latestMs: latestStartOf(printer, { what, inkMl: takes.inkMl }, fromMs, slackMin * 60_000, exercised),
        timerId,
        skippable: what.kind === 'purge',
        skipped: isSkipped(shop, `${timerId}@${String(fromMs)}`),
      }));
  });
  return [...inLine, ...coming.sort((a, b) => a.fromMs - b.fromMs)];
}

/** What is known of a printer wherever its care is planned. */
type CaredRow = Pick<ReturnType<typeof carePrinter>, 'id' | 'name' | 'config'>;

function plannedRow(shop: Shop, printer: CaredRow, row: CareRow, nowMs: number): PlannedCareView {
  const { id, title, latestMs, timerId, inkMl, fedMm, msLeft, estimateMs } = row;
  const present = CARE_STATES_ON_PRINTER.includes(row.state);
  const fromMs = present ? Math.min(nowMs, mayBeginMs(row)) : mayBeginMs(row);
  return {
    ...takesOf(shop.db, printer, row.what),
    // As it was put into the line, and as it was sent: that may be less than its design says by now.
    ...{ id, title, inkMl: { ...inkMl }, fedMm, latestMs },
    durationMs: present ? (msLeft ?? estimateMs) : estimateMs,
    fromMs: Math.floor(fromMs),
    timerId: null,
    skippable: row.what.kind === 'purge' && timerId !== null && !present,
    skipped: !present && isSkipped(shop, id),
  };
}

function takesOf(db: Reader, printer: CaredRow, what: CareWhat) {
  const { title, durationMs, inkMl, fedMm, stockId } = careWork(db, printer, what);
  return { what: what as CareWhatView, title, durationMs, inkMl: { ...inkMl }, fedMm, stockId };
}

/** The rules that put care before the runs of a printer, and before which of its queued runs that has been done. */
export function plannedRules(db: Reader, all: readonly CareRuleRow[], printer: CaredRow): PlannedRuleView[] {
  const rules = rulesOn(all, printer);
  if (rules.length === 0) return [];
  const done = db
    .select({ ruleId: careItems.ruleId, runId: runs.id })
    .from(runs)
    .innerJoin(careItems, eq(careItems.runId, runs.id))
    .where(and(eq(runs.printerId, printer.id), eq(runs.state, 'queued'), isNotNull(careItems.ruleId)))
    .all();
  return rules.map(({ id, what, overMm, onlyImportant }) => {
    const { what: _asked, ...takes } = takesOf(db, printer, asCare(what, printer));
    const doneFor = done.filter(({ ruleId }) => ruleId === id).map(({ runId }) => runId);
    return { id, what, overMm, onlyImportant, ...takes, doneFor };
  });
}

/** What a rule asks for as care of a printer: a clean of the channels that a run fires, of all where none is said. */
export function asCare(
  what: RuleWhat,
  { config }: Pick<CaredRow, 'config'>,
  inkMl?: Readonly<Record<string, number>>,
): CareWhat {
  if (what.kind !== 'clean') return what;
  const all = config.channels.map(({ id }) => id);
  const fired = all.filter((id) => (inkMl?.[id] ?? 0) > 0);
  return { ...what, channelIds: fired.length > 0 ? fired : all };
}
