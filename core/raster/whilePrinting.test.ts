import fc from 'fast-check';
import { endOfPrinting, headStart, mayPrintWhileRendering } from './whilePrinting.ts';

const evenly = (count: number, each: number, from = 1): number[] =>
  Array.from({ length: count }, (_, i) => (i + from) * each);

test('figures: five bands, ready every 3, printed in 2', () => {
  const ready = evenly(5, 3);
  expect(headStart(ready, evenly(5, 2, 0), 1)).toBe(7);
  expect(endOfPrinting(ready, 2, 7, 1)).toEqual({ end: 17, waits: [] });
  // Begun a little sooner it waits once, and ends no sooner.
  expect(endOfPrinting(ready, 2, 6, 1)).toEqual({ end: 17, waits: [4] });
});

test('figures: 20 m at 720 dpi on Heron, by how fast this machine renders', () => {
  const [bands, megapixels, printMs] = [1108, 23.22, 3700];
  const bandMs = (perSecond: number): number => (megapixels / perSecond) * 1000;
  expect(bandMs(60)).toBeCloseTo(387, 0);
  expect(mayPrintWhileRendering(bandMs(60), printMs, 1)).toBe(true);
  expect(mayPrintWhileRendering(bandMs(9.12), printMs, 1)).toBe(false);
  // A clock that runs sixty times as fast leaves a sixtieth of the time.
  expect(mayPrintWhileRendering(bandMs(60), printMs, 60)).toBe(false);
  // Times of a band are given to the nearest ms and 5 ms: over 1,108 bands that is 2 s.
  expect(Math.abs(headStart(evenly(bands, 5.093), evenly(bands, 3.7, 0)) - 1548.7)).toBeLessThan(2);
});

test('what begins with its head start never waits; begun sooner it ends no sooner', () => {
  const times = fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 40 });
  fc.assert(
    fc.property(
      times,
      fc.integer({ min: 1, max: 20 }),
      fc.integer({ min: 1, max: 6 }),
      fc.nat(30),
      (each, print, least, sooner) => {
        let sum = 0;
        const ready = each.map((time) => (sum += time));
        const start = headStart(
          ready,
          ready.map((_, i) => i * print),
          least,
        );
        const whole = endOfPrinting(ready, print, start, least);
        expect(whole.waits).toEqual([]);
        expect(whole.end).toBe(start + ready.length * print);
        const begun = Math.max(ready[Math.min(least, ready.length) - 1] ?? 0, start - sooner);
        expect(endOfPrinting(ready, print, begun, least).end).toBeGreaterThanOrEqual(
          Math.max(begun + ready.length * print, (ready[ready.length - 1] ?? 0) + print),
        );
      },
    ),
  );
});
