import fc from 'fast-check';
import { bordersOf } from './borders.ts';

const HOUR = 3_600_000;

test('hours and days follow each other, hold the span, and every day begins with an hour: over changes of the clock and in odd zones', () => {
  const zones = fc.constantFrom('UTC', 'Europe/Amsterdam', 'Asia/Kolkata', 'America/St_Johns', 'Australia/Lord_Howe');
  fc.assert(
    fc.property(
      zones,
      fc.integer({ min: 1.7e12, max: 1.8e12 }),
      fc.integer({ min: 0, max: 9 * 24 * HOUR }),
      (zone, from, length) => {
        const to = from + length;
        const hours = bordersOf('hour', from, to, zone);
        const days = bordersOf('day', from, to, zone);
        for (const borders of [hours, days]) {
          expect(borders[0]).toBeLessThanOrEqual(from);
          expect(borders[1]).toBeGreaterThan(from);
          expect(borders.at(-1)).toBeGreaterThan(to);
          expect(borders.at(-2)).toBeLessThanOrEqual(to);
          for (const [i, ms] of borders.entries()) if (i > 0) expect(ms).toBeGreaterThan(borders[i - 1] ?? 0);
        }
        for (const [i, ms] of hours.entries()) if (i > 0) expect(ms - (hours[i - 1] ?? 0)).toBeLessThanOrEqual(HOUR);
        // A day that begins within the hours that are listed begins one of them.
        const known = new Set(hours);
        for (const day of days)
          if (day > (hours[0] ?? 0) && day <= (hours.at(-1) ?? 0)) expect(known.has(day)).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});
