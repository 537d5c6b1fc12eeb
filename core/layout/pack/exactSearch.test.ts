import fc from 'fast-check';
import { parseNestRequest } from '../nestInput.ts';
import { nest } from '../nest.ts';
import { ExactSearch } from './exactSearch.ts';
import type { PlacedPiece, SizeClass } from './types.ts';

interface Side {
  readonly w: number;
  readonly h: number;
}

/** Tries every whole place of every piece: knows nothing of corners, staircases or bounds. */
function fits(pieces: readonly (readonly Side[])[], width: number, height: number): boolean {
  const taken = new Uint8Array(width * height);
  const lay = (index: number): boolean => {
    const sides = pieces[index];
    if (!sides) return true;
    for (const { w, h } of sides) {
      for (let y = 0; y + h <= height; y++) {
        for (let x = 0; x + w <= width; x++) {
          const cells = Array.from({ length: w * h }, (_, i) => (y + Math.floor(i / w)) * width + x + (i % w));
          if (cells.some((cell) => taken[cell] === 1)) continue;
          for (const cell of cells) taken[cell] = 1;
          if (lay(index + 1)) return true;
          for (const cell of cells) taken[cell] = 0;
        }
      }
    }
    return false;
  };
  return lay(0);
}

function shortest(classes: readonly SizeClass[], width: number): number {
  const pieces = classes.flatMap((c) =>
    Array.from({ length: c.count }, () => [
      { w: c.w, h: c.h },
      ...(c.turnable ? [{ w: c.turnedW, h: c.turnedH }] : []),
    ]),
  );
  const area = classes.reduce(
    (sum, c) => sum + c.count * Math.min(c.w * c.h, c.turnable ? c.turnedW * c.turnedH : c.w * c.h),
    0,
  );
  for (let height = Math.ceil(area / width); ; height++) if (fits(pieces, width, height)) return height;
}

/** Whether all pieces lie within the width, none on another. */
function isSound(classes: readonly SizeClass[], width: number, packing: readonly PlacedPiece[], top: number): boolean {
  const laid = packing.map(({ classIndex, turned, x, y }) => {
    const c = classes[classIndex];
    if (!c || (turned && !c.turnable)) throw new Error('lies as it may not');
    return { x, y, w: turned ? c.turnedW : c.w, h: turned ? c.turnedH : c.h };
  });
  const apart = laid.every((a, i) =>
    laid.slice(i + 1).every((b) => a.x + a.w <= b.x || b.x + b.w <= a.x || a.y + a.h <= b.y || b.y + b.h <= a.y),
  );
  const inside = laid.every(({ x, y, w, h }) => x >= 0 && y >= 0 && x + w <= width && y + h <= top);
  const counts = classes.map((_, i) => packing.filter((piece) => piece.classIndex === i).length);
  return apart && inside && counts.every((count, i) => count === classes[i]?.count);
}

const WIDTH = 6;
const MOST = 4;
const anyClasses = fc
  .array(
    fc.record({
      w: fc.integer({ min: 1, max: WIDTH }),
      h: fc.integer({ min: 1, max: 4 }),
      // The gaps across and along differ: turned, a piece is not simply its sides exchanged.
      more: fc.integer({ min: 0, max: 1 }),
      turn: fc.boolean(),
      count: fc.integer({ min: 1, max: 2 }),
    }),
    { minLength: 1, maxLength: MOST },
  )
  .map((list) => {
    let room = MOST;
    return list.flatMap(({ w, h, more, turn, count }): SizeClass[] => {
      const copies = Math.min(count, room);
      room -= copies;
      const [turnedW, turnedH] = [Math.min(WIDTH, h + more), w];
      return copies > 0 ? [{ w, h, turnedW, turnedH, turnable: turn && turnedW !== w, count: copies }] : [];
    });
  });

describe('trying all layouts', () => {
  test('finds the shortest that there is, and says so', () => {
    fc.assert(
      fc.property(anyClasses, (classes) => {
        const found: { top: number; packing: readonly PlacedPiece[] } = { top: 1000, packing: [] };
        const search = new ExactSearch(classes, WIDTH, 0, {
          spent: () => false,
          better: (packing, top) => {
            expect(top).toBeLessThan(found.top);
            Object.assign(found, { packing, top });
          },
        });
        expect(search.run(1000)).toBe('all tried');
        expect(isSound(classes, WIDTH, found.packing, found.top)).toBe(true);
        expect(found.top).toBe(shortest(classes, WIDTH));
      }),
      { numRuns: 150 },
    );
  });

  test('finds nothing below the shortest, and the shortest from just above it', () => {
    fc.assert(
      fc.property(anyClasses, (classes) => {
        const least = shortest(classes, WIDTH);
        const below = jest.fn();
        expect(new ExactSearch(classes, WIDTH, 0, { spent: () => false, better: below }).run(least)).toBe('all tried');
        expect(below).not.toHaveBeenCalled();
        const tops: number[] = [];
        const hooks = { spent: () => false, better: (_: unknown, top: number) => tops.push(top) };
        new ExactSearch(classes, WIDTH, 0, hooks).run(least + 1);
        expect(tops).toEqual([least]);
      }),
      { numRuns: 60 },
    );
  });

  test('that is broken off proves nothing', () => {
    const classes = Array.from({ length: 10 }, (_, i) => ({
      w: 100 + 37 * i,
      h: 90 + 53 * ((i * 7) % 10),
      turnedW: 90 + 53 * ((i * 7) % 10),
      turnedH: 100 + 37 * i,
      turnable: true,
      count: 1,
    }));
    let states = 0;
    const search = new ExactSearch(classes, 1000, 0, { spent: () => ++states > 500, better: () => undefined });
    expect(search.run(1e6)).toBe('stopped');
  });
});

describe('a nest of few rectangles', () => {
  // Sides that share no step coarser than the grid: sums can't be told apart exactly, and must be rounded the safe way.
  test.each([1, 0.37, 0.01])('is proven the shortest, in steps of %f mm', (step) => {
    const pieces = [
      [300, 210],
      [410, 330],
      [280, 190],
      [520, 160],
      [240, 370],
      [330, 120],
    ].map(([w = 0, h = 0], i) => ({
      id: String(i),
      widthMm: w + step * i,
      heightMm: h + step * (i % 3),
      copies: 1,
      quarterTurn: true,
    }));
    const parsed = parseNestRequest({ widthMm: 900, gapMm: 3, marginMm: 10, pieces });
    if (!parsed.ok) throw new Error(parsed.reason.code);
    const layout = nest(parsed.value, { seed: 1, stepBudget: 200_000 });
    expect(layout.boundMm).toBe(layout.lengthMm);
    // Another seed goes other ways and comes to the same.
    expect(nest(parsed.value, { seed: 2, stepBudget: 200_000 }).lengthMm).toBeCloseTo(layout.lengthMm, 6);
    // The search ends by itself, long before it may.
    expect(layout.steps).toBeLessThan(100_000);
  });

  test('is not called the shortest where nothing was proven', () => {
    const pieces = Array.from({ length: 14 }, (_, i) => ({
      id: String(i),
      widthMm: 110 + 41 * i,
      heightMm: 130 + 59 * ((i * 5) % 14),
      copies: 1,
      quarterTurn: true,
    }));
    const parsed = parseNestRequest({ widthMm: 1340, gapMm: 5, marginMm: 0, pieces });
    if (!parsed.ok) throw new Error(parsed.reason.code);
    const { boundMm, lengthMm } = nest(parsed.value, { seed: 1, stepBudget: 2000 });
    expect(boundMm).toBeLessThan(lengthMm);
  });
});
