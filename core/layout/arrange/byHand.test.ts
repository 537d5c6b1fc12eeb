import fc from 'fast-check';
import { type Alignment, aligned, distributed, snapMove } from './byHand.ts';

const three = [
  { key: 'a', xMm: 10, yMm: 20, widthMm: 100, heightMm: 50 },
  { key: 'b', xMm: 200, yMm: 40, widthMm: 60, heightMm: 80 },
  { key: 'c', xMm: 330, yMm: 10, widthMm: 30, heightMm: 30 },
];

test.each([
  ['left', [10, 10, 10], 'xMm'],
  ['right', [260, 300, 330], 'xMm'],
  ['middle', [135, 155, 170], 'xMm'],
  ['lead', [10, 10, 10], 'yMm'],
  ['trail', [70, 40, 90], 'yMm'],
  ['centre', [40, 25, 50], 'yMm'],
] as const)('aligned by %s', (how: Alignment, expected, key) => {
  const corners = aligned(three, how);
  expect(three.map((piece) => corners.get(piece.key)?.[key])).toEqual(expected);
});

test('distributed: the outermost stay, all gaps are equal, nothing else moves', () => {
  const piece = fc.record({
    xMm: fc.integer({ min: 0, max: 2000 }),
    yMm: fc.integer({ min: 0, max: 2000 }),
    widthMm: fc.integer({ min: 1, max: 300 }),
    heightMm: fc.integer({ min: 1, max: 300 }),
  });
  fc.assert(
    fc.property(fc.array(piece, { minLength: 3, maxLength: 9 }), (list) => {
      const pieces = list.map((each, i) => ({ key: String(i), ...each }));
      const corners = distributed(pieces, 'feed');
      const order = [...pieces].sort((a, b) => a.yMm - b.yMm || (a.key < b.key ? -1 : 1));
      const ys = order.map((each) => corners.get(each.key)?.yMm ?? NaN);
      expect(ys[0]).toBe(order[0]?.yMm);
      expect(ys[ys.length - 1]).toBeCloseTo(order[order.length - 1]?.yMm ?? NaN, 6);
      const gaps = ys.slice(1).map((y, i) => y - (ys[i] ?? 0) - (order[i]?.heightMm ?? 0));
      for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0] ?? NaN, 6);
      expect(order.every((each) => corners.get(each.key)?.xMm === each.xMm)).toBe(true);
    }),
    { seed: 5 },
  );
  expect(distributed(three.slice(0, 2), 'across').size).toBe(0);
});

test('a dragged piece snaps to one gap from its neighbour, level with it, and to the ends of the usable width', () => {
  const lines = { gapXMm: 5, gapYMm: 5, widthMm: 1000, leadMm: 20 };
  const still = { xMm: 100, yMm: 100, widthMm: 200, heightMm: 100 };
  const at = (xMm: number, yMm: number) => snapMove([{ xMm, yMm, widthMm: 80, heightMm: 60 }], [still], lines, 8);
  expect(at(302, 103)).toEqual({ dxMm: 3, dyMm: -3 });
  expect(at(11, 143)).toEqual({ dxMm: 4, dyMm: -3 });
  expect(at(600, 300)).toEqual({ dxMm: 0, dyMm: 0 });
  expect(at(915, 26)).toEqual({ dxMm: 5, dyMm: -6 });
});
