import fc from 'fast-check';
import { inkMl } from '../estimate/ink.ts';
import { leastColumnMm } from './columns.ts';
import { barExerciseMm, exerciseMl } from './exercise.ts';

test('the least of its columns counts: a gap of one column is nothing, a bar across the media is for all', () => {
  const left = { xMm: 0, widthMm: 400, heightMm: 500, coverage: 0.5 };
  const right = { xMm: 400, widthMm: 500, heightMm: 300, coverage: 1 };
  expect(leastColumnMm([left, right], 900, 0)).toBeCloseTo(250, 9);
  expect(leastColumnMm([left, { ...right, xMm: 410, widthMm: 490 }], 900, 0)).toBe(0);
  // Half a column is half a dose.
  expect(leastColumnMm([left, { ...right, xMm: 405, widthMm: 495 }], 900, 0)).toBeCloseTo(150, 9);
  expect(leastColumnMm([left], 900, 42.33)).toBeCloseTo(42.33, 9);
  expect(leastColumnMm([], 900, 0)).toBe(0);
});

test('it agrees with counting millimetre by millimetre', () => {
  const piece = fc.record({
    xMm: fc.integer({ min: 0, max: 180 }),
    widthMm: fc.integer({ min: 1, max: 90 }),
    heightMm: fc.integer({ min: 1, max: 50 }),
    coverage: fc.double({ min: 0, max: 1, noNaN: true }),
  });
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 12 }), fc.integer({ min: 11, max: 205 }), (pieces, widthMm) => {
      const byMm = Array.from({ length: widthMm }, (_, x) =>
        pieces.reduce(
          (sum, each) => (x >= each.xMm && x < each.xMm + each.widthMm ? sum + each.heightMm * each.coverage : sum),
          0,
        ),
      );
      let least = Infinity;
      for (let from = 0; from < widthMm; from += 10) {
        const column = byMm.slice(from, from + 10);
        least = Math.min(least, column.reduce((sum, each) => sum + each, 0) / column.length);
      }
      expect(leastColumnMm(pieces, widthMm, 0)).toBeCloseTo(least, 6);
    }),
  );
});

test('a bar exercises as the sheet says: 42.33 mm of each channel at 1,200 dpi, for 48,000 nozzles', () => {
  const bar = barExerciseMm({ coverage: 1, dpiX: 1200, dpiY: 1200 }, 1200);
  const width = (48_000 / 1200) * 25.4;
  const ml = inkMl(1, width * leastColumnMm([], width, bar), 1200, 1200, 1.5);
  expect(ml).toBeCloseTo(exerciseMl({ heads: 1, nozzles: 48_000, dropPl: 1.5 }), 9);
});
