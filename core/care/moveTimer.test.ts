import fc from 'fast-check';
import { moveRangeOf, moveTarget, movedStart } from './moveTimer.ts';
import { occurrencesAfter } from './recurrence.ts';
import { instantOf, wallTimeOf } from './wallTime.ts';

const ZONE = 'Europe/Copenhagen';
const at = (wall: string): number => instantOf(wall, ZONE);
const MIN = 60_000;

test('a rule that names its days keeps them; one that counts hours or days moves as a whole', () => {
  const rules = [
    null,
    'FREQ=HOURLY;INTERVAL=6',
    'FREQ=DAILY',
    'FREQ=DAILY;INTERVAL=2',
    'FREQ=WEEKLY;BYDAY=MO',
    'FREQ=MONTHLY;BYMONTHDAY=1',
  ];
  expect(rules.map((rrule) => moveRangeOf({ rrule }))).toEqual([
    'to any day',
    'to any day',
    'within its day',
    'to any day',
    'within its day',
    'within its day',
  ]);
  const daily = { rrule: 'FREQ=DAILY' };
  const from = at('2027-03-24T04:15');
  expect(wallTimeOf(moveTarget(daily, from, at('2027-03-25T01:00'), ZONE, 15 * MIN), ZONE)).toBe('2027-03-24T23:59');
  expect(wallTimeOf(moveTarget(daily, from, at('2027-03-24T05:22'), ZONE, 15 * MIN), ZONE)).toBe('2027-03-24T05:15');
});

test('an occurrence is moved with all that follow it', () => {
  const move = (rrule: string | null, startLocal: string, occurrence: string, to: string): string =>
    movedStart({ rrule, startLocal }, at(occurrence), at(to), ZONE);
  expect(move(null, '2027-03-24T04:15', '2027-03-24T04:15', '2027-03-26T20:00')).toBe('2027-03-26T20:00');
  expect(move('FREQ=DAILY', '2027-01-01T04:15', '2027-03-24T04:15', '2027-03-24T06:30')).toBe('2027-01-01T06:30');
  expect(move('FREQ=DAILY;INTERVAL=3', '2027-01-01T04:15', '2027-01-04T04:15', '2027-01-05T06:00')).toBe(
    '2027-01-02T06:00',
  );
  expect(move('FREQ=HOURLY;INTERVAL=6', '2027-03-27T20:00', '2027-03-28T03:00', '2027-03-28T04:00')).toBe(
    '2027-03-27T21:00',
  );
});

test('the moved timer comes exactly where it was dropped, whatever its rule', () => {
  const rule = fc.constantFrom(
    'FREQ=DAILY',
    'FREQ=DAILY;INTERVAL=4',
    'FREQ=WEEKLY;BYDAY=TU,FR',
    'FREQ=MONTHLY;BYMONTHDAY=15',
    'FREQ=HOURLY;INTERVAL=7',
  );
  fc.assert(
    fc.property(rule, fc.integer({ min: 0, max: 8 }), fc.integer({ min: -200, max: 200 }), (rrule, nth, steps) => {
      const recurrence = { rrule, startLocal: '2027-05-04T10:15', untilLocal: null };
      const occurrence = occurrencesAfter(recurrence, ZONE, at('2027-05-04T10:00'), { count: 9 })[nth] ?? 0;
      const target = moveTarget(recurrence, occurrence, occurrence + steps * 5 * MIN, ZONE, 5 * MIN);
      const startLocal = movedStart(recurrence, occurrence, target, ZONE);
      expect(occurrencesAfter({ ...recurrence, startLocal }, ZONE, target - 1, { count: 1 })).toEqual([target]);
    }),
    { numRuns: 150 },
  );
});
