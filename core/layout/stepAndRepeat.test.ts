import fc from 'fast-check';
import { findClashes } from './checkLayout.ts';
import { neededExtentMm, piecesThatFit, type Stagger, type StepPlan, stepAndRepeat } from './stepAndRepeat.ts';

const plan = (change: Partial<StepPlan>): StepPlan => ({
  piece: { widthMm: 100, heightMm: 50 },
  count: 10,
  columns: null,
  roomMm: 440,
  gapXMm: 10,
  gapYMm: 6,
  stagger: 'none',
  shiftMm: null,
  ...change,
});

test('the width is filled, or as many columns as asked; seven pieces along have six gaps', () => {
  expect(stepAndRepeat(plan({}))).toMatchObject({ columns: 4, rows: 3, extentMm: 3 * 50 + 2 * 6 });
  expect(stepAndRepeat(plan({ columns: 2 }))).toMatchObject({ columns: 2, rows: 5 });
  expect(stepAndRepeat(plan({ columns: 9 }))).toMatchObject({ columns: 4 });
  const seven = stepAndRepeat(plan({ piece: { widthMm: 400, heightMm: 182.5 }, count: 7 }));
  expect(seven?.extentMm).toBeCloseTo(1313.5, 9);
  expect(seven?.extentMm).toBeCloseTo(neededExtentMm(7, 182.5, 6), 9);
  expect(stepAndRepeat(plan({ roomMm: 99 }))).toBeUndefined();
});

test('a shifted row moves by half a pitch and loses the piece that no longer fits; the first row is never shifted', () => {
  const rows = stepAndRepeat(plan({ stagger: 'rows', count: 8 }));
  expect(rows?.corners.map((corner) => corner.xMm)).toEqual([0, 110, 220, 330, 55, 165, 275, 0]);
  const own = stepAndRepeat(plan({ stagger: 'rows', count: 5, columns: 3, shiftMm: 20 }));
  expect(own?.corners.map((corner) => corner.xMm)).toEqual([0, 110, 220, 20, 130]);
  const columns = stepAndRepeat(plan({ stagger: 'columns', count: 8 }));
  expect(columns?.corners.slice(0, 4).map((corner) => corner.yMm)).toEqual([0, 28, 0, 28]);
  expect(columns?.extentMm).toBe(56 + 28 + 50);
});

test('whatever is asked, all pieces are there, none is too close, none lies beyond the room', () => {
  fc.assert(
    fc.property(
      fc.record({
        w: fc.integer({ min: 50, max: 4000 }).map((n) => n / 10),
        h: fc.integer({ min: 50, max: 4000 }).map((n) => n / 10),
        count: fc.integer({ min: 1, max: 120 }),
        columns: fc.option(fc.integer({ min: 1, max: 12 })),
        gap: fc.integer({ min: 0, max: 90 }).map((n) => n / 10),
        stagger: fc.constantFrom<Stagger>('none', 'rows', 'columns'),
        shiftMm: fc.option(fc.integer({ min: 0, max: 300 })),
      }),
      ({ w, h, count, columns, gap, stagger, shiftMm }) => {
        const piece = { widthMm: w, heightMm: h };
        const stepped = stepAndRepeat(
          plan({ piece, count, columns, gapXMm: gap, gapYMm: gap, stagger, shiftMm, roomMm: 600 }),
        );
        if (!stepped) return;
        expect(stepped.corners).toHaveLength(count);
        const laid = stepped.corners.map((corner, i) => ({ key: String(i), ...corner, ...piece }));
        const limits = { widthMm: 600, leftMm: 0, rightMm: 0, leadMm: 0, gapXMm: gap, gapYMm: gap };
        expect(findClashes(laid, limits)).toEqual([]);
        expect(stepped.columns).toBeLessThanOrEqual(piecesThatFit(600, w, gap));
        expect(stepped.extentMm).toBeCloseTo(Math.max(...laid.map((each) => each.yMm + h)), 9);
      },
    ),
    { numRuns: 200, seed: 7 },
  );
});
