import 'temporal-polyfill/global';
import { RRuleTemporal } from 'rrule-temporal';
import { type Result, ok, refuse } from '../result.ts';
import { type WallTime, instantOf, isWallTime, wallTimeOf } from './wallTime.ts';

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

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** A rule that has found nothing for so long finds nothing. */
const FARTHEST_MS = 30 * 366 * DAY_MS;
/** More than this many are never asked for at once. */
const MOST = 10_000;

/**
 * The instants (UTC, ms) after `afterMs` at which something comes round, in order.
 *
 * Days, weeks and months are those of a calendar in the shop's zone (RFC 5545); *every N hours* counts elapsed hours from the start,
 * whatever clocks do.
 * @param zone IANA name
 * @param count at most so many; 10,000 is the limit
 * @param known an occurrence not after the first that is wanted: counting begins there in place of the start
 * @throws where {@link checkRecurrence} refuses
 */
export function occurrencesAfter(
  recurrence: Recurrence,
  zone: string,
  afterMs: number,
  count: number,
  known?: number,
): number[] {
  const { rrule, startLocal, untilLocal } = recurrence;
  const untilMs = untilLocal === null ? Infinity : instantOf(untilLocal, zone);
  const startMs = instantOf(startLocal, zone);
  if (rrule === null) return startMs > afterMs && startMs <= untilMs && count > 0 ? [startMs] : [];
  const parts = ruleParts(rrule);
  if (!parts.ok) throw new Error(parts.reason.text);
  const found: number[] = [];
  const most = Math.min(count, MOST);
  if (parts.value.freq === 'HOURLY') {
    const stepMs = parts.value.interval * HOUR_MS;
    const from = Math.max(0, Math.floor((afterMs - startMs) / stepMs) + 1);
    for (let i = from; found.length < most; i += 1) {
      const at = startMs + i * stepMs;
      if (at > untilMs) break;
      found.push(at);
    }
    return found;
  }
  // Wall times run in a zone without changes of clocks; each is looked up in the shop's zone afterwards, by one rule.
  const from = known !== undefined && known <= afterMs && known > startMs ? wallTimeOf(known, zone) : startLocal;
  // A wall time that was moved by a change of clocks is no occurrence of its own: it is counted from the start.
  const anchor = instantOf(from, zone) === known && from.slice(11) === startLocal.slice(11) ? from : startLocal;
  const rule = new RRuleTemporal({
    rruleString: rrule.replace(/^RRULE:/i, ''),
    dtstart: Temporal.ZonedDateTime.from(`${anchor}:00[UTC]`),
  });
  // A day earlier: what a change of clocks moves to behind `afterMs` begins before it.
  const fromWall = Math.max(
    Date.parse(`${anchor}:00Z`),
    Date.parse(`${wallTimeOf(Math.max(afterMs, 0), zone)}:00Z`) - DAY_MS,
  );
  const { freq, interval } = parts.value;
  const step = { DAILY: 1, WEEKLY: 7, MONTHLY: 31 }[freq] * interval * DAY_MS;
  // Looked for ever further ahead: the 29th of February comes every fourth year, the 31st of every other February never.
  for (let far = Math.min(FARTHEST_MS, (most + 1) * step + 2 * DAY_MS); ; far = Math.min(FARTHEST_MS, far * 4)) {
    found.length = 0;
    for (const wall of rule.between(new Date(fromWall), new Date(fromWall + far), true)) {
      const at = instantOf(new Date(wall.epochMilliseconds).toISOString().slice(0, 16), zone);
      if (at > untilMs || found.length >= most) return found;
      if (at > afterMs && at !== found.at(-1)) found.push(at);
    }
    if (found.length >= most || fromWall + far > untilMs || far >= FARTHEST_MS) return found;
  }
}
