import { oversprayOf, sideMargins, usableWidth } from './usableWidth.ts';

const PRINTER = {
  printableWidthMm: 1118,
  registeredEdge: 'centre',
  mediaMarginMm: { leftMm: 3, rightMm: 5 },
  oversprayMm: 2,
} as const;

function widthsOf(mediaWidthMm: number, edgeToEdge: boolean) {
  const { leftMm, rightMm } = sideMargins(PRINTER, edgeToEdge);
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
  const { leftMm, rightMm } = sideMargins({ mediaMarginMm: { leftMm: 3, rightMm: 5 } }, true);
  expect([leftMm, rightMm]).toEqual([0, 0]);
});
