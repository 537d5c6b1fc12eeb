import { RRule } from 'rrule';
import { seededRandom } from '../random.ts';
import { occurrencesAfter } from './recurrence.ts';
import { type Recurrence, checkRecurrence, ruleParts } from './rule.ts';
import { instantOf, isWallTime, wallTimeOf } from './wallTime.ts';

const ZONE = 'Europe/Copenhagen';
const iso = (list: readonly number[]): string[] => list.map((ms) => new Date(ms).toISOString().slice(0, 16));
const every = (rrule: string | null, startLocal: string, untilLocal: string | null = null): Recurrence => ({
  rrule,
  startLocal,
  untilLocal,
});
const after = (text: string): number => Date.parse(`${text}Z`);

test('daily at 02:30 over both changes of clocks: the hour left out is taken with the offset before, the one that comes twice is the first', () => {
  const daily = every('FREQ=DAILY', '2026-01-01T02:30');
  expect(iso(occurrencesAfter(daily, ZONE, after('2027-03-26T12:00'), { count: 3 }))).toEqual([
    '2027-03-27T01:30',
    '2027-03-28T01:30',
    '2027-03-29T00:30',
  ]);
  expect(wallTimeOf(after('2027-03-28T01:30'), ZONE)).toBe('2027-03-28T03:30');
  expect(iso(occurrencesAfter(daily, ZONE, after('2027-10-30T12:00'), { count: 2 }))).toEqual([
    '2027-10-31T00:30',
    '2027-11-01T01:30',
  ]);
});

test('every 6 hours counts elapsed hours, whatever clocks show', () => {
  const hourly = every('FREQ=HOURLY;INTERVAL=6', '2027-03-27T20:00');
  const shown = occurrencesAfter(hourly, ZONE, after('2027-03-27T19:30'), { count: 4 }).map((ms) =>
    wallTimeOf(ms, ZONE).slice(11),
  );
  expect(shown).toEqual(['03:00', '09:00', '15:00', '21:00']);
});

test('the 31st leaves short months out, the last day is in each; every other day counts dates', () => {
  const from = after('2027-01-01T00:00');
  const dates = (rrule: string, start: string): string[] =>
    occurrencesAfter(every(rrule, start), ZONE, from, { count: 4 }).map((ms) => wallTimeOf(ms, ZONE).slice(5, 10));
  expect(dates('FREQ=MONTHLY;BYMONTHDAY=31', '2027-01-31T05:00')).toEqual(['01-31', '03-31', '05-31', '07-31']);
  expect(dates('FREQ=MONTHLY;BYMONTHDAY=-1', '2027-01-31T05:00')).toEqual(['01-31', '02-28', '03-31', '04-30']);
  expect(dates('FREQ=DAILY;INTERVAL=2', '2027-03-26T02:30')).toEqual(['03-26', '03-28', '03-30', '04-01']);
});

test('once, until, and nothing after it', () => {
  expect(iso(occurrencesAfter(every(null, '2027-06-01T05:00'), ZONE, 0, { count: 5 }))).toEqual(['2027-06-01T03:00']);
  expect(occurrencesAfter(every(null, '2027-06-01T05:00'), ZONE, after('2027-06-01T03:00'), { count: 5 })).toEqual([]);
  const until = every('FREQ=DAILY', '2027-06-01T05:00', '2027-06-03T05:00');
  expect(occurrencesAfter(until, ZONE, 0, { count: 50 })).toHaveLength(3);
  expect(occurrencesAfter(until, ZONE, after('2027-06-03T03:00'), { count: 50 })).toEqual([]);
});

test('what a timer can not do is refused by name', () => {
  const refused = (rrule: string): string => {
    const parts = ruleParts(rrule);
    return parts.ok ? 'taken' : `${parts.reason.part}: ${parts.reason.text}`;
  };
  expect(refused('FREQ=YEARLY')).toContain('FREQ: FREQ is one of HOURLY');
  expect(refused('FREQ=DAILY;COUNT=3')).toBe('COUNT: A timer has no COUNT.');
  expect(refused('FREQ=DAILY;INTERVAL=0')).toContain('from 1 to 1,000');
  expect(refused('FREQ=WEEKLY;BYDAY=XX')).toContain('BYDAY');
  expect(refused('FREQ=DAILY;BYDAY=MO')).toContain('goes with FREQ=WEEKLY');
  expect(refused('FREQ=MONTHLY;BYMONTHDAY=32')).toContain('1 to 31');
  expect(refused('FREQ=DAILY;FREQ=DAILY')).toContain('twice');
  expect(refused('RRULE:FREQ=WEEKLY;BYDAY=MO,TH')).toBe('taken');
  const bad = (recurrence: Recurrence): string => {
    const answer = checkRecurrence(recurrence);
    return answer.ok ? 'taken' : answer.reason.code;
  };
  expect([
    bad(every('FREQ=DAILY', '2027-02-30T04:15')),
    bad(every('FREQ=DAILY', '2027-02-20T04:15', '2027-02-19T04:15')),
    bad(every('FREQ=DAILY', '2027-02-20T04:15', 'soon')),
    bad(every('FREQ=DAILY', '2027-02-20T04:15', '2027-02-20T04:15')),
  ]).toEqual(['bad-start', 'bad-until', 'bad-until', 'taken']);
});

/** Another library works the wall times out; instants are looked up by searching minute by minute. */
function byTheOther(rrule: string, startLocal: string, zone: string, fromMs: number, toMs: number): number[] {
  const rule = new RRule({ ...RRule.parseString(rrule), dtstart: new Date(`${startLocal}:00Z`) });
  const day = 86_400_000;
  return rule.between(new Date(fromMs - 2 * day), new Date(toMs + 2 * day), true).flatMap((wall) => {
    const text = wall.toISOString().slice(0, 16);
    const asUtc = wall.getTime();
    let at: number | undefined;
    for (let ms = asUtc - 15 * 3_600_000; ms <= asUtc + 15 * 3_600_000 && at === undefined; ms += 900_000) {
      if (wallTimeOf(ms, zone) === text) at = ms;
    }
    // Left out by a change of clocks: so long after midnight of that day as it says.
    at ??=
      instantOf(`${text.slice(0, 10)}T00:00`, zone) +
      Number(text.slice(11, 13)) * 3_600_000 +
      Number(text.slice(14)) * 60_000;
    return at > fromMs && at <= toMs ? [at] : [];
  });
}

test.each([ZONE, 'America/New_York'])(
  'ten years of daily, weekly and monthly rules in %s are those of another library',
  (zone) => {
    const random = seededRandom(27);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
    for (let i = 0; i < 6; i += 1) {
      const rrule = pick([
        `FREQ=DAILY;INTERVAL=${String(1 + Math.floor(random() * 5))}`,
        `FREQ=WEEKLY;INTERVAL=${String(1 + Math.floor(random() * 3))};BYDAY=${pick(['MO', 'TU,FR', 'SA,SU', 'WE,TH,SU'])}`,
        `FREQ=MONTHLY;BYMONTHDAY=${pick(['1', '15,31', '-1', '29'])}`,
      ]);
      const start = `2026-0${String(1 + Math.floor(random() * 9))}-${String(10 + Math.floor(random() * 18))}T0${pick(['1', '2', '3'])}:${pick(['00', '15', '30'])}`;
      const from = instantOf(start, zone) - 1;
      const to = from + 10 * 365.25 * 86_400_000;
      const ours = occurrencesAfter(every(rrule, start), zone, from, { count: 10_000 }).filter((ms) => ms <= to);
      expect([rrule, start, iso(ours)]).toEqual([rrule, start, iso(byTheOther(rrule, start, zone, from, to))]);
      // From the middle on, counted from any known one of them: the same again.
      const k = Math.floor(ours.length / 2);
      expect(occurrencesAfter(every(rrule, start), zone, ours[k] ?? 0, { count: 9, known: ours[k - 1] })).toEqual(
        ours.slice(k + 1, k + 10),
      );
    }
  },
);

test('local times are those of a calendar', () => {
  expect(['2027-02-29T04:15', '2028-02-29T04:15', '2027-02-01T24:00', '2027-2-1T04:15'].map(isWallTime)).toEqual([
    false,
    true,
    false,
    false,
  ]);
});
