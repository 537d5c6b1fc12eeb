import fc from 'fast-check';
import { findClashes } from '../checkLayout.ts';
import { groupsBySize, planSegment, segmentPlaces } from './segments.ts';

const worked = { widthMm: 1340, lengthMm: 400, gapXMm: 5, gapYMm: 5 };

test('the worked figures: 100 × 60 lies turned, since that gives more pieces for the length', () => {
  const upright = planSegment({ widthMm: 100, heightMm: 60, quarterTurn: false }, worked);
  expect(upright).toEqual({
    ok: true,
    value: { columns: 12, rows: 6, turned: false, perRun: 72, extentMm: 385 },
  });
  const free = planSegment({ widthMm: 100, heightMm: 60, quarterTurn: true }, worked);
  expect(free).toEqual({ ok: true, value: { columns: 20, rows: 3, turned: true, perRun: 60, extentMm: 310 } });
});

test('430 pieces of 12 a run are 36 runs, the last of 10 and shorter by a row', () => {
  const piece = { widthMm: 300, heightMm: 120, quarterTurn: false };
  const room = { widthMm: 1220, lengthMm: 380, gapXMm: 5, gapYMm: 5 };
  const plan = planSegment(piece, room);
  if (!plan.ok) throw new Error(plan.reason.code);
  expect(plan.value).toMatchObject({ columns: 4, rows: 3, perRun: 12 });
  const runs = segmentPlaces(430, piece, plan.value, room, { leadMm: 10, leftMm: 0 });
  expect(runs).toHaveLength(36);
  expect(runs.map((places) => places.length)).toEqual([...Array.from({ length: 35 }, () => 12), 10]);
  expect(runs[35]?.map(({ xMm, yMm }) => [xMm, yMm])).toEqual([
    ...[0, 305, 610, 915].map((x) => [x, 10]),
    ...[0, 305, 610, 915].map((x) => [x, 135]),
    ...[0, 305].map((x) => [x, 260]),
  ]);
});

test('what does not fit is refused with the figure that fails', () => {
  const room = { widthMm: 500, lengthMm: 400, gapXMm: 0, gapYMm: 0 };
  const plan = (widthMm: number, heightMm: number, quarterTurn: boolean) =>
    planSegment({ widthMm, heightMm, quarterTurn }, room);
  expect(plan(600, 300, false)).toEqual({ ok: false, reason: { code: 'too-wide', leastMm: 600, roomMm: 500 } });
  expect(plan(600, 300, true)).toEqual({ ok: false, reason: { code: 'too-long', leastMm: 600, roomMm: 400 } });
  expect(plan(450, 420, true)).toEqual({ ok: false, reason: { code: 'too-long', leastMm: 420, roomMm: 400 } });
  expect(plan(700, 600, true)).toEqual({ ok: false, reason: { code: 'too-wide', leastMm: 600, roomMm: 500 } });
});

test('every segment is sound, within its room, and none could be denser the other way', () => {
  fc.assert(
    fc.property(
      fc.record({
        w: fc.integer({ min: 100, max: 9000 }).map((n) => n / 10),
        h: fc.integer({ min: 100, max: 9000 }).map((n) => n / 10),
        turn: fc.boolean(),
        gap: fc.integer({ min: 0, max: 120 }).map((n) => n / 10),
        quantity: fc.integer({ min: 1, max: 900 }),
      }),
      ({ w, h, turn, gap, quantity }) => {
        const piece = { widthMm: w, heightMm: h, quarterTurn: turn };
        const room = { widthMm: 1340, lengthMm: 400, gapXMm: gap, gapYMm: gap };
        const plan = planSegment(piece, room);
        if (!plan.ok) return;
        const runs = segmentPlaces(quantity, piece, plan.value, room, { leadMm: 20, leftMm: 0 });
        expect(runs.flat()).toHaveLength(quantity);
        for (const places of runs) {
          const laid = places.map(({ xMm, yMm, angleDeg }, i) => ({
            key: String(i),
            xMm,
            yMm,
            widthMm: angleDeg === 90 ? h : w,
            heightMm: angleDeg === 90 ? w : h,
          }));
          const limits = { widthMm: 1340, leftMm: 0, rightMm: 0, leadMm: 20, gapXMm: gap, gapYMm: gap };
          expect(findClashes(laid, limits)).toEqual([]);
          expect(Math.max(...laid.map((each) => each.yMm + each.heightMm))).toBeLessThanOrEqual(420 + 1e-6);
        }
        const other = planSegment({ widthMm: h, heightMm: w, quarterTurn: false }, room);
        if (turn && other.ok) {
          const density = (p: { perRun: number; extentMm: number }): number => p.perRun / p.extentMm;
          expect(density(plan.value)).toBeGreaterThanOrEqual(density(other.value) - 1e-9);
        }
      },
    ),
    { numRuns: 120, seed: 430 },
  );
});

test('the grain leaves a segment one way, and sizes that may be turned differently are cut apart', () => {
  const room = { widthMm: 1340, lengthMm: 400, gapXMm: 5, gapYMm: 5 };
  const label = { widthMm: 100, heightMm: 60, quarterTurn: true };
  expect(planSegment({ ...label, grain: 'along' }, room)).toMatchObject({
    ok: true,
    value: { turned: false, perRun: 72 },
  });
  expect(planSegment({ ...label, grain: 'across' }, room)).toMatchObject({
    ok: true,
    value: { turned: true, perRun: 60 },
  });
  expect(planSegment({ ...label, widthMm: 1500, grain: 'along' }, room)).toMatchObject({
    ok: false,
    reason: { code: 'too-wide', leastMm: 1500 },
  });
  const pieces = [label, { ...label, grain: 'along' as const }, label, { ...label, heightMm: 61 }];
  expect(groupsBySize(pieces, true).map((group) => [group.heightMm, group.grain, group.pieces.length])).toEqual([
    [60, 'free', 2],
    [60, 'along', 1],
    [61, 'free', 1],
  ]);
  expect(groupsBySize(pieces, false).every((group) => !group.quarterTurn)).toBe(true);
});
