import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { type DayUse, daysLasting, orderAdvice, useAhead, usePattern } from './stockForecast.ts';

const USED = [6.2, 4.1, 5.0, 4.4, 7.9, 1.8, 5.6, 4.7, 4.2, 5.1, 8.3, 2.1, 6.8, 3.8, 5.3, 4.6, 7.4, 1.6];
/** Three weeks, Monday to Saturday. */
const worked: DayUse[] = USED.map((usedMm, i) => ({ weekday: (i % 6) + 1, month: 5, usedMm }));
const ahead = (days: number) => Array.from({ length: days }, (_, i) => ({ weekday: (i % 6) + 1, month: 5 }));
const patternOf = (days: readonly DayUse[], spanDays = 21) => {
  const pattern = usePattern(days, spanDays);
  if (!pattern) throw new Error('nothing was used');
  return pattern;
};

test('weekday factors, level and spread of the worked three weeks', () => {
  const { level, sigma, weekdays, months, isFewData } = patternOf(worked);
  expect([...weekdays.values()].map((each) => Number(each.toFixed(4)))).toEqual([
    1.1094, 0.9359, 0.9908, 0.9793, 1.2541, 0.7305,
  ]);
  expect(level).toBeCloseTo(4.6922, 4);
  expect(sigma).toBeCloseTo(1.2842, 4);
  expect(months.size).toBe(0);
  expect(isFewData).toBe(false);
});

test('lead time, reorder point, days that are left and packs of the worked case', () => {
  const until = useAhead(patternOf(worked), ahead(24));
  expect(until[4]?.mean).toBeCloseTo(24.725, 3);
  expect(until[4]?.spread).toBeCloseTo(3.6722, 4);
  expect(daysLasting(until, 60)).toEqual({ early: 10, likely: 12, late: 15 });
  const terms = { leadDays: 5, coverDays: 12, leastMm: 10, packMm: 50 };
  const order = orderAdvice(until, { leftMm: 38, onOrderMm: 0 }, terms);
  expect(order.reorderPointMm).toBeCloseTo(40.77, 2);
  expect(order).toMatchObject({ isDue: true, packs: 2, orderMm: 100, dueInDays: 0 });
  const two = order.orderMm + 38;
  expect(two).toBeGreaterThan(38 + 69.59);
  // What is on its way counts; what is there is enough for the lead time then.
  expect(orderAdvice(until, { leftMm: 38, onOrderMm: 50 }, terms)).toMatchObject({ isDue: false, packs: 0 });
  expect(orderAdvice(until, { leftMm: 60, onOrderMm: 0 }, terms).dueInDays).toBe(5);
});

test('queued work is part of the forecast: the larger counts, never the sum', () => {
  const until = useAhead(patternOf(worked), ahead(24));
  const queued = until.map(() => 24);
  expect(daysLasting(until, 60, queued)).toEqual(daysLasting(until, 60));
  expect(
    daysLasting(
      until,
      60,
      until.map(() => 61),
    ).likely,
  ).toBe(0);
  const terms = { leadDays: 5, coverDays: 12, leastMm: 10, packMm: 50 };
  expect(orderAdvice(until, { leftMm: 60, onOrderMm: 0, queuedUntil: until.map(() => 55) }, terms)).toMatchObject({
    isDue: true,
    reorderPointMm: 65,
  });
});

test('few data are said to be few, and nothing used is no forecast', () => {
  const few = patternOf(worked.slice(0, 9), 10);
  expect(few).toMatchObject({ isFewData: true, sigma: 0 });
  expect(few.level).toBeCloseTo(worked.slice(0, 9).reduce((sum, { usedMm }) => sum + usedMm, 0) / 9, 12);
  expect(
    usePattern(
      worked.map((day) => ({ ...day, usedMm: 0 })),
      21,
    ),
  ).toBeUndefined();
  expect(usePattern([], 0)).toBeUndefined();
});

/** Two years and more with weekdays, a summer, and chance. */
function twoYears(seed: number): { days: DayUse[]; truth: (weekday: number, month: number) => number } {
  const random = seededRandom(seed);
  const truth = (weekday: number, month: number): number => (weekday === 5 ? 8 : 4) * (month === 7 ? 1.5 : 1);
  const days: DayUse[] = [];
  for (let d = 0; d < 800; d += 1) {
    const weekday = (d % 7) + 1;
    const month = (Math.floor(d / 30.4) % 12) + 1;
    if (weekday > 5) continue;
    days.push({ weekday, month, usedMm: truth(weekday, month) * (0.7 + 0.6 * random()) });
  }
  return { days, truth };
}

test('seasons count from two years on, and what is made up is found again', () => {
  const { days } = twoYears(4);
  const pattern = patternOf(days, 800);
  expect((pattern.months.get(7) ?? 0) / (pattern.months.get(3) ?? 1)).toBeGreaterThan(1.35);
  expect((pattern.months.get(7) ?? 0) / (pattern.months.get(3) ?? 1)).toBeLessThan(1.65);
  expect((pattern.weekdays.get(5) ?? 0) / (pattern.weekdays.get(2) ?? 1)).toBeCloseTo(2, 0);
  expect(patternOf(days, 700).months.size).toBe(0);
});

test('eight of ten sums of ten days lie between early and late', () => {
  let inside = 0;
  const all = 300;
  for (let seed = 0; seed < all; seed += 1) {
    const { days } = twoYears(100 + seed);
    const known = days.slice(0, 200);
    const next = days.slice(200, 210);
    const [until] = useAhead(patternOf(known, 280), next).slice(-1);
    const used = next.reduce((sum, { usedMm }) => sum + usedMm, 0);
    // Months change in what is left out of short histories; only those without a change are a fair case.
    if (until && Math.abs(used - until.mean) <= 1.2816 * until.spread) inside += 1;
  }
  expect(inside / all).toBeGreaterThan(0.7);
  expect(inside / all).toBeLessThan(0.95);
});

test('more time never needs less, and more on the shelf never lasts shorter', () => {
  const day = fc.record({ usedMm: fc.integer({ min: 0, max: 9000 }), weekday: fc.integer({ min: 1, max: 7 }) });
  fc.assert(
    fc.property(
      fc.array(day, { minLength: 10, maxLength: 40 }),
      fc.integer({ min: 1, max: 90_000 }),
      fc.nat(30_000),
      (used, leftMm, more) => {
        const pattern = usePattern(
          used.map((each) => ({ ...each, month: 1 })),
          60,
        );
        if (!pattern) return;
        const until = useAhead(pattern, ahead(30));
        for (const [d, { mean, spread }] of until.entries()) {
          expect(mean).toBeGreaterThanOrEqual(until[d - 1]?.mean ?? 0);
          expect(spread).toBeGreaterThanOrEqual(until[d - 1]?.spread ?? 0);
        }
        const [a, b] = [daysLasting(until, leftMm), daysLasting(until, leftMm + more)];
        for (const key of ['early', 'likely', 'late'] as const) {
          expect(b[key] ?? Infinity).toBeGreaterThanOrEqual(a[key] ?? Infinity);
        }
        expect(a.early ?? Infinity).toBeLessThanOrEqual(a.likely ?? Infinity);
        expect(a.likely ?? Infinity).toBeLessThanOrEqual(a.late ?? Infinity);
      },
    ),
  );
});
