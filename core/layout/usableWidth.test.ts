import { findClashes } from './checkLayout.ts';
import { oversprayOf, sideMargins, usableWidth } from './usableWidth.ts';

const PRINTER = {
  printableWidthMm: 1118,
  registeredEdge: 'centre',
  mediaMarginMm: { leftMm: 3, rightMm: 5 },
  oversprayMm: 2,
} as const;

function widthsOf(mediaWidthMm: number, edgeToEdge: boolean) {
  const { leftMm, rightMm } = sideMargins(PRINTER, edgeToEdge, mediaWidthMm);
  return usableWidth(PRINTER, mediaWidthMm, leftMm, rightMm);
}

test('with margins they are taken off; edge to edge, what can be printed reaches over both edges', () => {
  expect(widthsOf(1067, false)).toEqual({ usableWidthMm: 1059, usableFromMm: 3 });
  expect(widthsOf(1067, true)).toEqual({ usableWidthMm: 1071, usableFromMm: -2 });
  expect(oversprayOf(widthsOf(1067, true), 1067)).toEqual({ leftMm: 2, rightMm: 2 });
  expect(oversprayOf(widthsOf(1067, false), 1067)).toEqual({ leftMm: 0, rightMm: 0 });
});

test('over the edges of its widest media, too; of what is wider it prints as much as it can', () => {
  expect(widthsOf(1118, true)).toEqual({ usableWidthMm: 1122, usableFromMm: -2 });
  expect(widthsOf(1150, true)).toEqual({ usableWidthMm: 1118, usableFromMm: 16 });
  expect(oversprayOf(widthsOf(1150, true), 1150)).toEqual({ leftMm: 0, rightMm: 0 });
});

test('a printer without overspray prints exactly to the edge', () => {
  const { leftMm, rightMm } = sideMargins(
    { mediaMarginMm: { leftMm: 3, rightMm: 5 }, printableWidthMm: 1118 },
    true,
    1067,
  );
  expect([leftMm, rightMm]).toEqual([0, 0]);
});

test('only what is wider than the media may lie over its edges', () => {
  const rect = { key: 'a', yMm: 0, heightMm: 100 };
  const limits = { widthMm: 1000, leftMm: 0, rightMm: 0, leadMm: 0, gapXMm: 0, gapYMm: 0 };
  const over = { leftMm: 2, rightMm: 2 };
  const judged = (xMm: number, widthMm: number) => findClashes([{ ...rect, xMm, widthMm }], { ...limits, over });
  expect(judged(0, 1000)).toEqual([]);
  expect(judged(2, 996)).toEqual([]);
  // A label of which 2 mm would be printed beside the media, at either edge.
  expect(judged(0, 200)).toEqual([{ kind: 'out-of-bounds', key: 'a', overMm: 2 }]);
  expect(judged(799, 200)).toEqual([{ kind: 'out-of-bounds', key: 'a', overMm: 1 }]);
});
