import { rotaSpan, shareOf } from './rotaTime.ts';

const ZONE = 'Europe/Copenhagen';
const iso = (ms: number): string => new Date(ms).toISOString().slice(0, 16);

test('a week begins on Monday in the shop’s zone; the one with the change of clocks is 167 hours long', () => {
  const week = rotaSpan('week', Date.parse('2027-03-24T23:30:00Z'), 0, ZONE);
  expect([iso(week.fromMs), iso(week.toMs), week.days.length]).toEqual(['2027-03-21T23:00', '2027-03-28T22:00', 8]);
  expect((week.toMs - week.fromMs) / 3_600_000).toBe(167);
  expect(shareOf(week.fromMs + 167 * 900_000, week)).toBeCloseTo(0.25, 9);
  expect([shareOf(0, week), shareOf(week.toMs + 1, week)]).toEqual([0, 1]);
});

test('days and months before and after', () => {
  expect(iso(rotaSpan('day', Date.parse('2027-03-28T10:00:00Z'), -1, ZONE).fromMs)).toBe('2027-03-26T23:00');
  const month = rotaSpan('month', Date.parse('2027-01-31T10:00:00Z'), 1, ZONE);
  expect([iso(month.fromMs), iso(month.toMs), month.days.length]).toEqual(['2027-01-31T23:00', '2027-02-28T23:00', 29]);
});
