import { eq } from 'drizzle-orm';
import type { PlannedCareView } from '../../../contract/api/care.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { timers } from '../../db/careTables.ts';
import type { Reader } from '../../db/open.ts';
import type { Shop } from '../../shop.ts';
import { careLine } from './careItems.ts';
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
  const inLine = careLine(shop.db, printerId).map((row) => {
    const present = CARE_STATES_ON_PRINTER.includes(row.state);
    return {
      id: row.id,
      title: row.title,
      fromMs: Math.floor(present ? Math.min(nowMs, row.dueMs) : row.dueMs),
      durationMs: present ? (row.msLeft ?? row.estimateMs) : row.estimateMs,
    };
  });
  const own = timersOf(shop.db, printerId);
  if (own.length === 0) return inLine;
  const printer = carePrinter(shop.db, printerId);
  const isHoliday = holidayTest(shop);
  const coming = own.flatMap((timer) => {
    const { title, durationMs } = careWork(shop.db, printer, timer.what);
    return comingOf(timer, shop.clock.zone)
      .filter((ms) => ms <= nowMs + AHEAD_MS && !(timer.skipHolidays && isHoliday(ms)) && timer.what.kind !== 'release')
      .map((fromMs) => ({ id: `${timer.id}@${String(fromMs)}`, title, fromMs, durationMs }));
  });
  return [...inLine, ...coming.sort((a, b) => a.fromMs - b.fromMs)];
}
