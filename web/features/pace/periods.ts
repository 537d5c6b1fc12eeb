import { TZDate } from '@date-fns/tz';
import { addDays, addMonths, startOfDay, startOfMonth, startOfWeek, differenceInCalendarDays } from 'date-fns';

export const PERIODS = ['day', 'week', 'month', 'quarter', 'year'] as const;
export type PeriodName = (typeof PERIODS)[number];
export type Step = 'hour' | 'day' | 'week' | 'month';

export interface Period {
  readonly fromMs: number;
  readonly toMs: number;
}

const MONTHS: Partial<Record<PeriodName, number>> = { month: 1, quarter: 3, year: 12 };
/** How a period is parted as long as nobody says otherwise. */
export const STEPS: Readonly<Record<PeriodName, Step>> = {
  day: 'hour',
  week: 'day',
  month: 'day',
  quarter: 'week',
  year: 'month',
};

/** The day, week, month, quarter or year of the shop's zone that holds an instant, so many of them later. */
export function periodOf(name: PeriodName, nowMs: number, offset: number, zone: string): Period {
  const now = new TZDate(nowMs, zone);
  const months = MONTHS[name];
  if (months !== undefined) {
    const month = startOfMonth(now);
    const from = addMonths(month, offset * months - (month.getMonth() % months));
    return { fromMs: from.getTime(), toMs: addMonths(from, months).getTime() };
  }
  const days = name === 'week' ? 7 : 1;
  const from = addDays(name === 'week' ? startOfWeek(now, { weekStartsOn: 1 }) : startOfDay(now), offset * days);
  return { fromMs: from.getTime(), toMs: addDays(from, days).getTime() };
}

/**
 * What a period is compared with: the one before it. A period that is not over is compared with as much of the one before,
 * so that half a week does not stand against a whole one.
 */
export function comparedWith(name: PeriodName, nowMs: number, offset: number, zone: string): Period {
  const own = periodOf(name, nowMs, offset, zone);
  const before = periodOf(name, nowMs, offset - 1, zone);
  if (nowMs >= own.toMs || nowMs < own.fromMs) return before;
  const days = differenceInCalendarDays(new TZDate(nowMs, zone), new TZDate(own.fromMs, zone)) + 1;
  const until = addDays(new TZDate(before.fromMs, zone), days).getTime();
  return { fromMs: before.fromMs, toMs: Math.min(before.toMs, until) };
}
