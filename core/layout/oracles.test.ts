import fc from 'fast-check';
import { closerThan } from '../geometry/frame.ts';
import { findClashes, type LaidPiece } from './checkLayout.ts';
import { layoutFigures } from './layoutFigures.ts';
import { nest } from './nest.ts';
import type { NestPiece } from './nestPiece.ts';
import { parseNestRequest, type NestInput } from './nestInput.ts';

const anyPiece = fc.record({
  xMm: fc.integer({ min: -20, max: 400 }),
  yMm: fc.integer({ min: -20, max: 900 }),
  widthMm: fc.integer({ min: 5, max: 150 }),
  heightMm: fc.integer({ min: 5, max: 150 }),
});

test('the sweeping checker finds exactly what comparing all pairs finds', () => {
  fc.assert(
    fc.property(fc.array(anyPiece, { maxLength: 40 }), fc.integer({ min: 0, max: 12 }), (rects, gap) => {
      const pieces = rects.map((rect, i): LaidPiece => ({ ...rect, key: String(i) }));
      const limits = { widthMm: 450, leftMm: 0, rightMm: 10, leadMm: 0, gapXMm: gap, gapYMm: gap };
      const swept = findClashes(pieces, limits).flatMap((clash) =>
        clash.kind === 'pair' ? [[clash.a, clash.b].sort().join('|')] : [clash.key],
      );
      const plain: string[] = [];
      pieces.forEach((a, i) => {
        if (a.xMm < 0 || a.yMm < 0 || a.xMm + a.widthMm > 440) plain.push(a.key);
        for (const b of pieces.slice(i + 1))
          if (closerThan(a, b, gap, gap)) plain.push([a.key, b.key].sort().join('|'));
      });
      expect(swept.sort()).toEqual(plain.sort());
    }),
    { numRuns: 300, seed: 12 },
  );
});

/** Shortest skyline packing over all orders and turns of a few pieces: slow, plain, and sure. */
function bestByTrying(input: NestInput): number {
  let best = Infinity;
  const place = (left: readonly NestPiece[], done: readonly LaidPiece[], end: number): void => {
    if (end >= best) return;
    if (left.length === 0) {
      best = end;
      return;
    }
    const xs = [0, ...done.map((d) => d.xMm + d.widthMm + input.gapXMm)];
    const ys = [0, ...done.map((d) => d.yMm + d.heightMm + input.gapYMm)];
    for (const piece of left) {
      for (const turned of piece.quarterTurn ? [false, true] : [false]) {
        const w = turned ? piece.heightMm : piece.widthMm;
        const h = turned ? piece.widthMm : piece.heightMm;
        for (const xMm of xs) {
          if (xMm + w > input.widthMm + 1e-9) continue;
          for (const yMm of ys) {
            const laid = { key: piece.id, xMm, yMm, widthMm: w, heightMm: h };
            if (done.some((d) => closerThan(d, laid, input.gapXMm, input.gapYMm, 1e-6))) continue;
            place(
              left.filter((each) => each !== piece),
              [...done, laid],
              Math.max(end, yMm + h),
            );
          }
        }
      }
    }
  };
  place(input.pieces, [], 0);
  return best;
}

test('few pieces: never longer than 12 % above the best of all that can be tried, mostly exactly it', () => {
  let exact = 0;
  const runs = 16;
  fc.assert(
    fc.property(
      fc.array(
        fc.record({ w: fc.integer({ min: 10, max: 60 }), h: fc.integer({ min: 10, max: 90 }), turn: fc.boolean() }),
        { minLength: 2, maxLength: 4 },
      ),
      fc.integer({ min: 0, max: 6 }),
      (sizes, gapMm) => {
        const pieces = sizes.map(({ w, h, turn }, i) => ({
          id: `p${i}`,
          widthMm: w,
          heightMm: h,
          copies: 1,
          quarterTurn: turn,
        }));
        const parsed = parseNestRequest({ widthMm: 100, gapMm, marginMm: 0, pieces });
        if (!parsed.ok) throw new Error(parsed.reason.code);
        const best = bestByTrying(parsed.value);
        const { lengthMm } = nest(parsed.value, { seed: 1, stepBudget: 3000 });
        expect(lengthMm).toBeGreaterThanOrEqual(best - 1e-6);
        expect(lengthMm).toBeLessThanOrEqual(best * 1.12 + 1e-6);
        if (lengthMm < best + 1e-6) exact += 1;
      },
    ),
    { numRuns: runs, seed: 31 },
  );
  expect(exact / runs).toBeGreaterThan(0.9);
});

test('the figures of a layout: length to the last piece, share of the media, what clashes and what is only tight', () => {
  const parsed = parseNestRequest({
    widthMm: 500,
    gapMm: 10,
    marginMm: { leadMm: 20, trailMm: 30, leftMm: 0, rightMm: 0 },
    pieces: [{ id: 'a', widthMm: 200, heightMm: 100, copies: 3, quarterTurn: false }],
  });
  if (!parsed.ok) throw new Error(parsed.reason.code);
  const at = (key: string, xMm: number, yMm: number): LaidPiece => ({ key, xMm, yMm, widthMm: 200, heightMm: 100 });
  const figures = layoutFigures(parsed.value, [at('1', 0, 20), at('2', 205, 20), at('3', 100, 110)], 600);
  expect(figures.lengthMm).toBe(240);
  expect(figures.utilisation).toBeCloseTo(60_000 / (600 * 240), 9);
  expect(figures.clashes).toEqual([
    { kind: 'pair', a: '1', b: '3' },
    { kind: 'pair', a: '2', b: '3' },
  ]);
  expect(figures.tight).toEqual([{ kind: 'pair', a: '1', b: '2' }]);
  expect(figures.boundMm).toBeGreaterThan(150);
  expect(layoutFigures(parsed.value, [], 600).lengthMm).toBe(0);
});
