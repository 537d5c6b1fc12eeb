import fc from 'fast-check';
import { areaMm2, boundsOf, turnedOutline } from './polygon.ts';
import { quarterTurns, turnedSize, wrapDeg } from './turn.ts';

test('quarter turns are exact, every other one is the rectangle around the turned one', () => {
  expect([0, 90, 180, 270, 360, -90].map((deg) => turnedSize(300.1, 200.7, deg).widthMm)).toEqual([
    300.1, 200.7, 300.1, 200.7, 300.1, 200.7,
  ]);
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 5000, noNaN: true }),
      fc.double({ min: 1, max: 5000, noNaN: true }),
      fc.integer({ min: -720, max: 720 }),
      (w, h, deg) => {
        const corners = [
          { x: 0, y: 0 },
          { x: w, y: 0 },
          { x: w, y: h },
          { x: 0, y: h },
        ];
        const turned = turnedOutline(corners, deg);
        const { minX, maxX, minY, maxY } = boundsOf(turned);
        expect(turnedSize(w, h, deg).widthMm).toBeCloseTo(maxX - minX, 6);
        expect(turnedSize(w, h, deg).heightMm).toBeCloseTo(maxY - minY, 6);
        expect(areaMm2(turned) / (w * h)).toBeCloseTo(1, 9);
        expect(wrapDeg(deg)).toBeGreaterThanOrEqual(0);
        expect(wrapDeg(deg)).toBeLessThan(360);
        expect(wrapDeg(wrapDeg(deg) - deg)).toBe(0);
      },
    ),
    { numRuns: 200, seed: 21 },
  );
  expect([quarterTurns(270), quarterTurns(-90), quarterTurns(45)]).toEqual([3, 3, undefined]);
});

test('counter-clockwise as it is seen: what points to the right then points to the leading edge', () => {
  // y runs away from the leading edge, so that up is less y.
  const [tip] = turnedOutline([{ x: 10, y: 0 }], 90);
  expect(tip?.x).toBeCloseTo(0, 9);
  expect(tip?.y).toBeCloseTo(-10, 9);
});
