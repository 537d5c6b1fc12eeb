import fc from 'fast-check';
import { turnedSize } from '../../geometry/turn.ts';
import { findClashes } from '../checkLayout.ts';
import { ROW_TURNS, STAGGERS, type StepPlan, neededExtentMm, piecesThatFit, stepAndRepeat } from './stepAndRepeat.ts';

const plan = (change: Partial<StepPlan>): StepPlan => ({
  piece: { widthMm: 100, heightMm: 50 },
  count: 10,
  lengthMm: null,
  columns: null,
  roomMm: 440,
  gapXMm: 10,
  gapYMm: 6,
  stagger: 'none',
  shiftMm: null,
  everySecond: 'none',
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

test('each row farther than the one before, and every second row turned by half or a quarter', () => {
  const steps = stepAndRepeat(plan({ stagger: 'each row', shiftMm: 30, count: 16 }));
  const firsts = steps?.corners.filter((corner, i, all) => i === 0 || corner.yMm !== all[i - 1]?.yMm);
  // A pitch is 110: the fifth row would begin at 120, that is at 10.
  expect(firsts?.map((corner) => corner.xMm)).toEqual([0, 30, 60, 90, 10]);
  const half = stepAndRepeat(plan({ everySecond: 'half' }));
  expect(half?.corners.map((corner) => corner.turnDeg)).toEqual([0, 0, 0, 0, 180, 180, 180, 180, 0, 0]);
  // Upright 50 wide pieces 100 high: seven in 440, the second row begins behind 50 mm and a gap.
  const quarter = stepAndRepeat(plan({ everySecond: 'quarter', count: 12 }));
  expect(quarter?.corners[4]).toEqual({ xMm: 0, yMm: 56, turnDeg: 90 });
  expect(quarter?.corners.filter((corner) => corner.turnDeg === 90)).toHaveLength(7);
  expect(quarter?.extentMm).toBe(56 + 106 + 50);
  const block = stepAndRepeat(plan({ everySecond: 'quarter', columns: 2, count: 12 }));
  expect(block?.corners.filter((corner) => corner.turnDeg === 90 && corner.yMm === 56)).toHaveLength(3);
});

test('a length takes as many rows as fit, to the grid unit; too short for one row, nothing', () => {
  const rows = (lengthMm: number) => stepAndRepeat(plan({ count: null, lengthMm }))?.rows;
  expect(rows(neededExtentMm(36, 50, 6))).toBe(36);
  expect(rows(neededExtentMm(36, 50, 6) - 0.01)).toBe(35);
  expect(rows(49.9)).toBeUndefined();
  expect(stepAndRepeat(plan({ count: null, lengthMm: 300, stagger: 'columns' }))?.corners).toHaveLength(16);
  expect(stepAndRepeat(plan({ count: 3, lengthMm: 300 }))?.corners).toHaveLength(3);
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
        stagger: fc.constantFrom(...STAGGERS),
        shiftMm: fc.option(fc.integer({ min: 0, max: 300 })),
        everySecond: fc.constantFrom(...ROW_TURNS),
        lengthMm: fc.option(fc.integer({ min: 100, max: 4000 })),
      }),
      ({ w, h, count, columns, gap, stagger, shiftMm, everySecond, lengthMm }) => {
        const piece = { widthMm: w, heightMm: h };
        const stepped = stepAndRepeat(
          plan({
            piece,
            count,
            lengthMm,
            columns,
            gapXMm: gap,
            gapYMm: gap,
            stagger,
            shiftMm,
            everySecond,
            roomMm: 600,
          }),
        );
        if (!stepped) return;
        if (lengthMm === null) expect(stepped.corners).toHaveLength(count);
        else expect(stepped.extentMm).toBeLessThanOrEqual(lengthMm + 1e-6);
        const laid = stepped.corners.map((corner, i) => ({
          ...{ key: String(i), ...corner },
          ...turnedSize(w, h, corner.turnDeg),
        }));
        const limits = { widthMm: 600, leftMm: 0, rightMm: 0, leadMm: 0, gapXMm: gap, gapYMm: gap };
        expect(findClashes(laid, limits)).toEqual([]);
        expect(stepped.columns).toBeLessThanOrEqual(piecesThatFit(600, w, gap));
        expect(stepped.extentMm).toBeCloseTo(Math.max(...laid.map((each) => each.yMm + each.heightMm)), 9);
      },
    ),
    { numRuns: 200, seed: 7 },
  );
});
