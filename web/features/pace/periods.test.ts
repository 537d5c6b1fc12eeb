import fc from 'fast-check';
import { PERIODS, comparedWith, periodOf } from './periods.ts';

const ZONE = 'Europe/Amsterdam';
const at = (text: string): number => Date.parse(text);

test('the week, month, quarter and year of a summer day, and those before', () => {
  const now = at('2026-07-15T12:00:00Z');
  const of = (name: (typeof PERIODS)[number], offset: number): string[] => {
    const { fromMs, toMs } = periodOf(name, now, offset, ZONE);
    return [fromMs, toMs].map((ms) => new Date(ms).toISOString());
  };
  expect(of('day', 0)).toEqual(['2026-07-14T22:00:00.000Z', '2026-07-15T22:00:00.000Z']);
  expect(of('week', 0)).toEqual(['2026-07-12T22:00:00.000Z', '2026-07-19T22:00:00.000Z']);
  expect(of('month', -1)).toEqual(['2026-05-31T22:00:00.000Z', '2026-06-30T22:00:00.000Z']);
  expect(of('quarter', 0)).toEqual(['2026-06-30T22:00:00.000Z', '2026-09-30T22:00:00.000Z']);
  expect(of('quarter', -2)).toEqual(['2025-12-31T23:00:00.000Z', '2026-03-31T22:00:00.000Z']);
  expect(of('year', 0)).toEqual(['2025-12-31T23:00:00.000Z', '2026-12-31T23:00:00.000Z']);
});

test('half a week is compared with as many days of the week before, a whole one with the whole', () => {
  const wednesday = at('2026-07-15T12:00:00Z');
  const { fromMs, toMs } = comparedWith('week', wednesday, 0, ZONE);
  expect([fromMs, toMs].map((ms) => new Date(ms).toISOString())).toEqual([
    '2026-07-05T22:00:00.000Z',
    '2026-07-08T22:00:00.000Z',
  ]);
  expect(comparedWith('week', wednesday, -1, ZONE)).toEqual(periodOf('week', wednesday, -2, ZONE));
});

test('periods of a kind follow each other without gaps, over changes of the clock', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...PERIODS),
      fc.integer({ min: 0, max: 2e12 }),
      fc.integer({ min: -30, max: 3 }),
      (name, ms, by) => {
        expect(periodOf(name, ms, by, ZONE).toMs).toBe(periodOf(name, ms, by + 1, ZONE).fromMs);
        const { fromMs, toMs } = periodOf(name, ms, 0, ZONE);
        expect(fromMs <= ms && ms < toMs).toBe(true);
      },
    ),
  );
});
