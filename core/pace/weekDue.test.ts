import fc from 'fast-check';
import { weekDue, weekOf } from './weekDue.ts';

const ZONE = 'Europe/Berlin';
const at = (text: string): number => Date.parse(text);

test('weeks go from Monday to Monday by the clocks of the shop, also where an hour is missing', () => {
  expect(weekOf(at('2027-03-31T10:00:00Z'), ZONE)).toEqual({
    fromMs: at('2027-03-28T22:00:00Z'),
    toMs: at('2027-04-04T22:00:00Z'),
  });
  // Clocks went forward on Sunday the 28th.
  const short = weekOf(at('2027-03-28T10:00:00Z'), ZONE);
  expect((short.toMs - short.fromMs) / 3_600_000).toBe(7 * 24 - 1);
});

test('on Monday at seven the week that has just ended is due, before that the one before', () => {
  const time = { weekday: 1, at: '07:00' };
  const lastWeek = weekOf(at('2027-03-24T12:00:00Z'), ZONE);
  expect(weekDue(time, at('2027-03-29T05:00:00Z'), 0, ZONE)).toEqual(lastWeek);
  expect(weekDue(time, at('2027-03-29T04:59:59Z'), 0, ZONE)).toEqual(weekOf(lastWeek.fromMs, ZONE, -1));
  expect(weekDue({ weekday: 7, at: '18:30' }, at('2027-03-28T16:30:00Z'), 0, ZONE)).toEqual(
    weekOf(lastWeek.fromMs, ZONE, -1),
  );
});

test('what came due before it was asked for is nobody’s', () => {
  const time = { weekday: 1, at: '07:00' };
  const asked = at('2027-03-30T09:00:00Z');
  expect(weekDue(time, asked + 1000, asked, ZONE)).toBeUndefined();
  expect(weekDue(time, at('2027-04-05T05:00:01Z'), asked, ZONE)).toEqual(weekOf(asked, ZONE));
});

test('whenever one looks: the week that is due is over, and it is due until the next one is', () => {
  const time = fc.record({ weekday: fc.integer({ min: 1, max: 7 }), at: fc.constantFrom('00:00', '07:30', '23:45') });
  const ms = fc.integer({ min: at('2026-01-01T00:00:00Z'), max: at('2028-01-01T00:00:00Z') });
  fc.assert(
    fc.property(time, ms, (when, nowMs) => {
      const due = weekDue(when, nowMs, 0, ZONE);
      if (!due) throw new Error('nothing is due');
      expect(due.toMs).toBeLessThanOrEqual(nowMs);
      expect(nowMs - due.toMs).toBeLessThan(14 * 86_400_000 + 3_600_000);
      expect(weekDue(when, nowMs + 7 * 86_400_000 + 7_200_000, 0, ZONE)?.fromMs).toBeGreaterThan(due.fromMs);
    }),
  );
});
