import { type Result, ok, refuse } from '../result.ts';
import { type WallTime, isWallTime } from './wallTime.ts';

/** When something comes round. Times are those of the shop's zone. */
export interface Recurrence {
  /** RFC 5545, as `FREQ=WEEKLY;BYDAY=MO,TH`; null: once, at its start. */
  readonly rrule: string | null;
  readonly startLocal: WallTime;
  /** The last instant at which it may come; null: it goes on. */
  readonly untilLocal: WallTime | null;
}

export const FREQUENCIES = ['HOURLY', 'DAILY', 'WEEKLY', 'MONTHLY'] as const;
export type Frequency = (typeof FREQUENCIES)[number];
export const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;
export type Weekday = (typeof WEEKDAYS)[number];

/** The parts of a rule that a timer can have. */
export interface RuleParts {
  readonly freq: Frequency;
  readonly interval: number;
  readonly byDay: readonly Weekday[];
  /** 1 to 31, or −1: the last day. */
  readonly byMonthDay: readonly number[];
}

export interface RuleRefusal {
  readonly code: 'bad-rule' | 'bad-start' | 'bad-until';
  readonly part: string;
  readonly text: string;
}

const no = (code: RuleRefusal['code'], part: string, text: string): Result<never, RuleRefusal> =>
  refuse({ code, part, text });

/** The parts of a rule, or what of it a timer can't do: then it is named, and nothing is guessed. */
export function ruleParts(rrule: string): Result<RuleParts, RuleRefusal> {
  const parts = new Map<string, string>();
  for (const pair of rrule.replace(/^RRULE:/i, '').split(';')) {
    const [name = '', value = ''] = pair.toUpperCase().split('=');
    if (parts.has(name)) return no('bad-rule', name, `${name} is said twice.`);
    parts.set(name, value);
  }
  for (const name of parts.keys()) {
    if (!['FREQ', 'INTERVAL', 'BYDAY', 'BYMONTHDAY', 'WKST'].includes(name)) {
      return no('bad-rule', name, `A timer has no ${name === '' ? 'empty part' : name}.`);
    }
  }
  const freq = FREQUENCIES.find((each) => each === parts.get('FREQ'));
  if (!freq) return no('bad-rule', 'FREQ', `FREQ is one of ${FREQUENCIES.join(', ')}.`);
  const interval = Number(parts.get('INTERVAL') ?? '1');
  if (!Number.isInteger(interval) || interval < 1 || interval > 1000) {
    return no('bad-rule', 'INTERVAL', 'INTERVAL is a whole number from 1 to 1,000.');
  }
  const byDay = parts.get('BYDAY')?.split(',') ?? [];
  const isWeekday = (text: string): text is Weekday => (WEEKDAYS as readonly string[]).includes(text);
  if (!byDay.every(isWeekday)) return no('bad-rule', 'BYDAY', `BYDAY is made of ${WEEKDAYS.join(', ')}.`);
  if (byDay.length > 0 && freq !== 'WEEKLY') return no('bad-rule', 'BYDAY', 'BYDAY goes with FREQ=WEEKLY.');
  const byMonthDay = parts.get('BYMONTHDAY')?.split(',').map(Number) ?? [];
  if (!byMonthDay.every((day) => Number.isInteger(day) && (day === -1 || (day >= 1 && day <= 31)))) {
    return no('bad-rule', 'BYMONTHDAY', 'BYMONTHDAY is made of 1 to 31, and -1 for the last day.');
  }
  if (byMonthDay.length > 0 && freq !== 'MONTHLY') {
    return no('bad-rule', 'BYMONTHDAY', 'BYMONTHDAY goes with FREQ=MONTHLY.');
  }
  return ok({ freq, interval, byDay, byMonthDay });
}

/** Whether a timer can come round like this. */
export function checkRecurrence({ rrule, startLocal, untilLocal }: Recurrence): Result<true, RuleRefusal> {
  if (!isWallTime(startLocal))
    return no('bad-start', 'startLocal', `${startLocal} is no local time like 2027-03-01T04:15.`);
  if (untilLocal !== null && !isWallTime(untilLocal)) {
    return no('bad-until', 'untilLocal', `${untilLocal} is no local time like 2027-03-01T04:15.`);
  }
  if (untilLocal !== null && untilLocal < startLocal) {
    return no('bad-until', 'untilLocal', `It ends (${untilLocal}) before it begins (${startLocal}).`);
  }
  const parts = rrule === null ? ok(null) : ruleParts(rrule);
  return parts.ok ? ok(true) : parts;
}
