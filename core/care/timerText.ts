import { type Recurrence, type Weekday, ruleParts } from './rule.ts';

const DAY_NAMES: Readonly<Record<Weekday, string>> = {
  MO: 'Monday',
  TU: 'Tuesday',
  WE: 'Wednesday',
  TH: 'Thursday',
  FR: 'Friday',
  SA: 'Saturday',
  SU: 'Sunday',
};
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const WORKDAYS = 'MO,TU,WE,TH,FR';

const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1) ?? ''}`;

const ordinal = (day: number): string => {
  const last = day % 10;
  const teen = day % 100 > 10 && day % 100 < 14;
  return `${String(day)}${!teen && last === 1 ? 'st' : !teen && last === 2 ? 'nd' : !teen && last === 3 ? 'rd' : 'th'}`;
};

const dateText = (wall: string): string =>
  `${String(Number(wall.slice(8, 10)))} ${MONTHS[Number(wall.slice(5, 7)) - 1] ?? ''} ${wall.slice(0, 4)}`;

/** When something comes round, as a person says it: "every Monday and Thursday at 04:15 until 3 Dec 2026". */
export function recurrenceText({ rrule, startLocal, untilLocal }: Recurrence): string {
  const at = startLocal.slice(11);
  const until = untilLocal === null ? '' : ` until ${dateText(untilLocal)}`;
  if (rrule === null) return `once, on ${dateText(startLocal)} at ${at}`;
  const parts = ruleParts(rrule);
  if (!parts.ok) return rrule;
  const { freq, interval, byDay, byMonthDay } = parts.value;
  const every = (one: string): string => (interval === 1 ? `every ${one}` : `every ${String(interval)} ${one}s`);
  if (freq === 'HOURLY') return `${every('hour')} from ${dateText(startLocal)} ${at}${until}`;
  if (freq === 'DAILY') return `${every('day')} at ${at}${until}`;
  if (freq === 'WEEKLY') {
    const days =
      byDay.join(',') === WORKDAYS
        ? 'from Monday to Friday'
        : `on ${listed(byDay.length > 0 ? byDay.map((day) => DAY_NAMES[day]) : ['the day it began'])}`;
    if (interval === 1 && byDay.length > 0 && byDay.join(',') !== WORKDAYS)
      return `every ${listed(byDay.map((day) => DAY_NAMES[day]))} at ${at}${until}`;
    return interval === 1 && byDay.join(',') === WORKDAYS
      ? `Monday to Friday at ${at}${until}`
      : `${every('week')} ${days} at ${at}${until}`;
  }
  const on = byMonthDay.map((day) => (day === -1 ? 'last day' : ordinal(day)));
  const days = on.length > 0 ? `the ${listed(on)}` : `the ${ordinal(Number(startLocal.slice(8, 10)))}`;
  return `on ${days} of ${interval === 1 ? 'each month' : `every ${String(interval)} months`} at ${at}${until}`;
}
