import fc from 'fast-check';
import { MOST_AHEAD_MS, checkPeriod, namedPeriods } from './awayPeriod.ts';
import { attendedSpans } from '../schedule/shopHours.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const HOURS = {
  zone: 'Europe/Copenhagen',
  days: [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '08:00', to: '17:00' })),
  holidays: [{ date: '2027-03-29', name: 'Easter Monday' }],
};
const at = (text: string): number => Date.parse(`${text}:00+01:00`);
const periods = (now: string) => {
  const nowMs = at(now);
  return namedPeriods(attendedSpans(HOURS, nowMs - DAY, nowMs + 20 * DAY), nowMs).map(({ name, fromMs, toMs }) => [
    name,
    (fromMs - nowMs) / HOUR,
    (toMs - fromMs) / HOUR,
  ]);
};

test('on a working day: tonight, the weekend that comes, and the week from closing time', () => {
  // Tuesday at noon: closing in five hours, for fifteen; Friday at five until Monday at eight is sixty-three.
  expect(periods('2027-03-16T12:00')).toEqual([
    ['tonight', 5, 15],
    ['the weekend', 77, 63],
    ['a week', 5, 168],
  ]);
});

test('after closing time tonight has begun; a weekend with a holiday and a change of clocks is as long as it is', () => {
  expect(periods('2027-03-16T22:00')[0]).toEqual(['tonight', 0, 10]);
  // Friday before Easter: until Tuesday at eight, an hour of it is left out.
  const [tonight] = periods('2027-03-26T16:00');
  expect(tonight).toEqual(['tonight', 1, 86]);
});

test('a break at noon is no time away; somebody who is always there leaves nothing to plan', () => {
  const nowMs = at('2027-03-16T10:00');
  const noon = {
    ...HOURS,
    days: HOURS.days.flatMap((day) => [
      { ...day, to: '12:00' },
      { ...day, from: '12:30' },
    ]),
  };
  expect(namedPeriods(attendedSpans(noon, nowMs, nowMs + 9 * DAY), nowMs)[0]).toMatchObject({
    fromMs: at('2027-03-16T17:00'),
  });
  expect(namedPeriods([{ fromMs: -Infinity, toMs: Infinity }], nowMs)).toEqual([]);
  expect(namedPeriods([], nowMs)).toEqual([]);
});

test('a time away ends after it begins, lies ahead, and reaches no further than timers are planned', () => {
  expect(checkPeriod({ fromMs: 5, toMs: 5 }, 0)).toEqual({ code: 'backwards' });
  expect(checkPeriod({ fromMs: 1, toMs: 5 }, 5)).toEqual({ code: 'past' });
  expect(checkPeriod({ fromMs: 1, toMs: MOST_AHEAD_MS + 1 }, 0)).toEqual({ code: 'too-far', mostMs: MOST_AHEAD_MS });
  expect(checkPeriod({ fromMs: -5, toMs: MOST_AHEAD_MS }, 0)).toBeUndefined();
});

test('whatever the hours, every time away that is suggested can be planned', () => {
  const day = fc.record({
    weekday: fc.integer({ min: 1, max: 7 }),
    from: fc.integer({ min: 0, max: 20 }),
    long: fc.integer({ min: 1, max: 3 }),
  });
  fc.assert(
    fc.property(fc.array(day, { maxLength: 6 }), fc.integer({ min: 0, max: 13 * 24 }), (list, hour) => {
      const two = (n: number): string => `${String(n).padStart(2, '0')}:00`;
      const days = list.map(({ weekday, from, long }) => ({ weekday, from: two(from), to: two(from + long) }));
      const nowMs = at('2027-03-15T00:00') + hour * HOUR;
      const spans = attendedSpans({ ...HOURS, days }, nowMs - DAY, nowMs + 20 * DAY);
      for (const period of namedPeriods(spans, nowMs)) expect(checkPeriod(period, nowMs)).toBeUndefined();
    }),
  );
});
