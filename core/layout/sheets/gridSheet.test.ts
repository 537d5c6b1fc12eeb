import fc from 'fast-check';
import { findClashes } from '../checkLayout.ts';
import { nest } from '../nest.ts';
import type { NestPiece } from '../nestPiece.ts';
import { type NestRequest, parseNestRequest } from '../nestInput.ts';

const piece = (
  id: string,
  widthMm: number,
  heightMm: number,
  copies: number,
  more: Partial<NestPiece> = {},
): NestPiece => ({
  ...{ id, widthMm, heightMm, copies, quarterTurn: true },
  ...more,
});

function filled(change: Partial<NestRequest>) {
  const parsed = parseNestRequest({
    widthMm: 330,
    gapMm: { x: 10, y: 5 },
    marginMm: { leadMm: 20, trailMm: 10, leftMm: 5, rightMm: 5 },
    sheetMm: 440,
    places: { columns: 3, rows: 4 },
    pieces: [piece('a', 90, 60, 5), piece('b', 80, 100, 9)],
    ...change,
  });
  if (!parsed.ok) return parsed.reason;
  return nest(parsed.value, { seed: 1, stepBudget: 10 });
}

function laid(change: Partial<NestRequest> = {}) {
  const layout = filled(change);
  if ('code' in layout) throw new Error(layout.code);
  return layout;
}

test('places are filled left to right, row by row, sheet by sheet; each piece lies in the middle of its place', () => {
  const { placements, lengthMm, boundMm } = laid();
  // Places of (320 − 2·10) / 3 = 100 by (410 − 3·5) / 4 = 98.75: b, 80 × 100, fits turned only.
  expect(placements.slice(0, 6)).toEqual([
    { id: 'a', copy: 0, xMm: 10, yMm: 39.375, angleDeg: 0 },
    { id: 'a', copy: 1, xMm: 120, yMm: 39.375, angleDeg: 0 },
    { id: 'a', copy: 2, xMm: 230, yMm: 39.375, angleDeg: 0 },
    { id: 'a', copy: 3, xMm: 10, yMm: 143.125, angleDeg: 0 },
    { id: 'a', copy: 4, xMm: 120, yMm: 143.125, angleDeg: 0 },
    { id: 'b', copy: 0, xMm: 225, yMm: 133.125, angleDeg: 90 },
  ]);
  expect(placements[12]).toEqual({ id: 'b', copy: 7, xMm: 5, yMm: 440 + 29.375, angleDeg: 90 });
  expect([lengthMm, boundMm]).toEqual([880, 880]);
  const groups = laid({
    order: 'groups',
    pieces: [piece('late', 50, 50, 1, { group: 2 }), piece('soon', 50, 50, 1, { group: 1 })],
  });
  expect(groups.placements.map(({ id }) => id)).toEqual(['soon', 'late']);
});

test('a place that a fixed piece reaches into stays empty', () => {
  const fixed = [{ xMm: 100, yMm: 30, widthMm: 20, heightMm: 20 }];
  const { placements } = laid({ pieces: [piece('a', 90, 60, 2)], fixed });
  expect(placements.map(({ xMm }) => xMm)).toEqual([230, 10]);
});

test('a piece that is larger than its place is refused with the figures of both; so are places without sheets', () => {
  expect(filled({ pieces: [piece('c', 120, 110, 1)] })).toEqual({
    ...{ code: 'too-large-for-place', id: 'c', widthMm: 120, heightMm: 110, placeWidthMm: 100, placeHeightMm: 98.75 },
  });
  expect(filled({ pieces: [piece('b', 80, 100, 1, { quarterTurn: false })] })).toMatchObject({
    code: 'too-large-for-place',
  });
  const { sheetMm: _, ...roll } = { widthMm: 330, gapMm: 5, marginMm: 0, sheetMm: 0, pieces: [piece('a', 9, 9, 1)] };
  expect(parseNestRequest({ ...roll, places: { columns: 2, rows: 2 } })).toMatchObject({
    reason: { code: 'places-need-sheets' },
  });
});

test('whatever the places, no two pieces are too close, and none crosses a margin or the end of a sheet', () => {
  const some = fc.record({
    columns: fc.integer({ min: 1, max: 6 }),
    rows: fc.integer({ min: 1, max: 6 }),
    gap: fc.integer({ min: 0, max: 12 }),
    copies: fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 5 }),
  });
  fc.assert(
    fc.property(some, ({ columns, rows, gap, copies }) => {
      const pieces = copies.map((n, i) => piece(String(i), 20 + i * 3, 34 - i * 2, n));
      const { placements } = laid({ places: { columns, rows }, gapMm: gap, pieces });
      const rects = placements.map(({ id, copy, xMm, yMm, angleDeg }) => {
        const { widthMm: w, heightMm: h } = pieces[Number(id)] ?? { widthMm: 0, heightMm: 0 };
        const size = angleDeg === 90 ? { widthMm: h, heightMm: w } : { widthMm: w, heightMm: h };
        return { key: `${id}/${String(copy)}`, xMm, yMm, ...size };
      });
      expect(rects).toHaveLength(copies.reduce((sum, n) => sum + n, 0));
      const limits = { widthMm: 330, leftMm: 5, rightMm: 5, leadMm: 20, gapXMm: gap, gapYMm: gap, sheetMm: 440 };
      expect(findClashes(rects, limits)).toEqual([]);
    }),
    { seed: 4, numRuns: 100 },
  );
});
