import type { TimerBody, TimerView } from '../../../../contract/api/care.ts';
import { WEEKDAYS, type Weekday, ruleParts } from '../../../../core/care/rule.ts';

export const WHENS = [
  'once',
  'every day',
  'on weekdays',
  'every so many hours',
  'every so many days',
  'monthly',
] as const;
export type When = (typeof WHENS)[number];

/** A timer as it stands in its form. */
export interface TimerDraft {
  readonly printerIds: readonly string[];
  readonly what: TimerBody['what'];
  readonly when: When;
  readonly date: string;
  readonly time: string;
  readonly every: number;
  readonly days: readonly Weekday[];
  /** 1 to 31, or −1: the last day. */
  readonly monthDay: number;
  /** Empty: it goes on. */
  readonly until: string;
  readonly skipHolidays: boolean;
  readonly missed: TimerBody['missed'];
  readonly slackMin: number;
}

/** The rule that a draft's choices come to; null: once. */
export function ruleOf({ when, every, days, monthDay }: TimerDraft): string | null {
  switch (when) {
    case 'once':
      return null;
    case 'every day':
      return 'FREQ=DAILY';
    case 'on weekdays':
      return `FREQ=WEEKLY;BYDAY=${WEEKDAYS.filter((day) => days.includes(day)).join(',')}`;
    case 'every so many hours':
      return `FREQ=HOURLY;INTERVAL=${String(every)}`;
    case 'every so many days':
      return `FREQ=DAILY;INTERVAL=${String(every)}`;
    case 'monthly':
      return `FREQ=MONTHLY;BYMONTHDAY=${String(monthDay)}`;
  }
}

/** What is sent for a draft. */
export function bodyOf(draft: TimerDraft): TimerBody {
  const { printerIds, what, date, time, until, skipHolidays, missed, slackMin } = draft;
  return {
    printerIds: [...printerIds],
    what,
    rrule: ruleOf(draft),
    startLocal: `${date}T${time}`,
    untilLocal: until === '' ? null : `${until}T23:59`,
    skipHolidays,
    missed,
    slackMin,
    paused: false,
  };
}

/** A timer that is there as its form shows it; null: its rule is one that the form can't show. */
export function draftOf(timer: TimerView): TimerDraft | null {
  const common = {
    printerIds: [timer.printerId],
    what: timer.what,
    date: timer.startLocal.slice(0, 10),
    time: timer.startLocal.slice(11),
    until: timer.untilLocal?.slice(0, 10) ?? '',
    skipHolidays: timer.skipHolidays,
    missed: timer.missed,
    slackMin: timer.slackMin,
    every: 2,
    days: ['MO', 'TU', 'WE', 'TH', 'FR'] as const,
    monthDay: 1,
  };
  if (timer.rrule === null) return { ...common, when: 'once' };
  const parts = ruleParts(timer.rrule);
  if (!parts.ok) return null;
  const { freq, interval, byDay, byMonthDay } = parts.value;
  if (freq === 'HOURLY') return { ...common, when: 'every so many hours', every: interval };
  if (freq === 'DAILY') {
    return interval === 1
      ? { ...common, when: 'every day' }
      : { ...common, when: 'every so many days', every: interval };
  }
  if (freq === 'WEEKLY' && interval === 1 && byDay.length > 0) return { ...common, when: 'on weekdays', days: byDay };
  const [monthDay = Number(common.date.slice(8, 10))] = byMonthDay;
  return freq === 'MONTHLY' && interval === 1 && byMonthDay.length < 2
    ? { ...common, when: 'monthly', monthDay }
    : null;
}
