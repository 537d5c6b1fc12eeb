import fc from 'fast-check';
import { nest } from '../nest.ts';
import { parseNestRequest } from '../nestInput.ts';
import { ExactSearch } from './exactSearch.ts';
import { rowBound } from './rowBound.ts';
import { type SizeClass, leastArea } from './types.ts';

function sized(w: number, h: number, count: number, turnable = false): SizeClass {
  return { w, h, turnedW: h, turnedH: w, turnable, count };
}

// Worked by hand: which rows there are, and how long each has to be.
test.each([
  ['pieces of which no two lie side by side', 100, [sized(60, 10, 3)], 30],
  ['three across where four would fill the area', 100, [sized(30, 40, 6)], 80],
  // Rows: 60 + 30, and three times 30. Four of the narrow ones lie beside the wide ones, six are left for rows of three.
  ['narrow ones beside wide ones', 100, [sized(60, 20, 4), sized(30, 20, 10)], 120],
  // Upright one across, lying two: 2 × 50 = 100.
  ['pieces that are better turned', 100, [sized(70, 50, 4, true)], 140],
  // No more slices can lie in a row than there are pieces.
  ['one small piece beside wide ones', 100, [sized(80, 10, 5), sized(10, 20, 1)], 50],
])('%s', (_, width, classes, length) => {
  expect(rowBound(classes, width)).toBeCloseTo(length, 6);
});

const anyClasses = fc.array(
  fc.record({
    w: fc.integer({ min: 3, max: 60 }),
    h: fc.integer({ min: 3, max: 60 }),
    turnable: fc.boolean(),
    count: fc.integer({ min: 1, max: 2 }),
  }),
  { minLength: 1, maxLength: 4 },
);

test('no layout is shorter, and no area says more', () => {
  fc.assert(
    fc.property(anyClasses, fc.integer({ min: 60, max: 140 }), (sizes, width) => {
      const classes = sizes.map(({ w, h, turnable, count }) => sized(w, h, count, turnable && w !== h));
      const bound = rowBound(classes, width);
      let top = 1e6;
      new ExactSearch(classes, width, 0, {
        spent: () => false,
        better: (__, shorter) => {
          top = shorter;
        },
      }).run(top);
      expect(bound).toBeLessThanOrEqual(top + 1e-6);
      expect(bound).toBeGreaterThanOrEqual(leastArea(classes) / width - 1e-6);
    }),
    { numRuns: 120 },
  );
});

test('a nest of few kinds is held against it', () => {
  const parsed = parseNestRequest({
    widthMm: 1000,
    gapMm: 0,
    marginMm: 0,
    pieces: [{ id: 'a', widthMm: 300, heightMm: 210, copies: 40, quarterTurn: false }],
  });
  if (!parsed.ok) throw new Error(parsed.reason.code);
  const layout = nest(parsed.value, { seed: 1, stepBudget: 2000 });
  // Three across, fourteen rows, one place empty; the area alone would be 2,520 mm, the rows 2,800.
  expect(layout.boundMm).toBeCloseTo(2800, 6);
  expect(layout.lengthMm).toBe(2940);
});
