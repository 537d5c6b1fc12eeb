import fc from 'fast-check';
import { findClashes } from '../checkLayout.ts';
import { nest } from '../nest.ts';
import { type NestRequest, parseNestRequest } from '../nestInput.ts';

const size = fc.record({ w: fc.integer({ min: 30, max: 400 }), h: fc.integer({ min: 30, max: 400 }) });
const margins = { leadMm: 20, trailMm: 7, leftMm: 5, rightMm: 12 };

test('pieces that are locked stay where they lie, the others are packed around them with the gap', () => {
  fc.assert(
    fc.property(
      fc.array(size, { minLength: 2, maxLength: 16 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 0, max: 1500 })), {
        minLength: 1,
        maxLength: 3,
      }),
      fc.integer({ min: 0, max: 9 }),
      fc.boolean(),
      (sizes, corners, gapMm, quarterTurn) => {
        const pieces = sizes.map(({ w, h }, i) => ({ id: String(i), widthMm: w, heightMm: h, copies: 1, quarterTurn }));
        // Each in a strip of its own, so that they are clear of each other.
        const fixed = corners.map(([x, y], i) => ({
          xMm: 5 + x,
          yMm: 20 + y + i * 2000,
          widthMm: 90.5,
          heightMm: 61.2,
        }));
        const request: NestRequest = { widthMm: 1000, gapMm, marginMm: margins, pieces, fixed };
        const input = parseNestRequest(request);
        if (!input.ok) throw new Error(input.reason.code);
        const layout = nest(input.value, { seed: 2, stepBudget: 30 });
        expect(layout.placements.map((p) => p.id).sort()).toEqual(pieces.map((p) => p.id).sort());
        const laid = [
          ...fixed.map((rect, i) => ({ key: `fixed ${String(i)}`, ...rect })),
          ...layout.placements.map(({ id, xMm, yMm, angleDeg }) => {
            const { w, h } = sizes[Number(id)] ?? { w: 0, h: 0 };
            return { key: id, xMm, yMm, widthMm: angleDeg === 90 ? h : w, heightMm: angleDeg === 90 ? w : h };
          }),
        ];
        expect(findClashes(laid, { ...margins, widthMm: 1000, gapXMm: gapMm, gapYMm: gapMm })).toEqual([]);
        const end = Math.max(...laid.map((each) => each.yMm + each.heightMm));
        expect(layout.lengthMm).toBeCloseTo(end + 7, 6);
      },
    ),
    { numRuns: 150, seed: 77 },
  );
});

test('a hole between locked pieces is filled, and more steps never make it longer', () => {
  const fixed = [
    { xMm: 0, yMm: 0, widthMm: 400, heightMm: 300 },
    { xMm: 600, yMm: 0, widthMm: 400, heightMm: 300 },
  ];
  const pieces = [
    { id: 'hole', widthMm: 190, heightMm: 295, copies: 1, quarterTurn: false },
    { id: 'wide', widthMm: 1000, heightMm: 50, copies: 2, quarterTurn: false },
  ];
  const input = parseNestRequest({ widthMm: 1000, gapMm: 5, marginMm: 0, pieces, fixed });
  if (!input.ok) throw new Error(input.reason.code);
  const lengths = [1, 5, 60].map((stepBudget) => nest(input.value, { seed: 1, stepBudget }).lengthMm);
  expect(lengths[2]).toBeCloseTo(300 + 2 * 55, 6);
  expect(lengths[1]).toBeLessThanOrEqual(lengths[0] ?? 0);
  const again = nest(input.value, { seed: 1, stepBudget: 60 });
  expect(again.placements.find((p) => p.id === 'hole')).toMatchObject({ xMm: 405, yMm: 0 });
});
