import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { lowerBoundMm } from './bound.ts';
import { findClashes } from './checkLayout.ts';
import type { NestLayout } from './nestLayout.ts';
import { nest } from './nest.ts';
import { type NestInput, type NestRequest, parseNestRequest } from './nestInput.ts';
import { placeAcross } from './sheets/placeAcross.ts';
import { zeroWasteInstance } from '../testing/zeroWaste.ts';

function parsed(request: NestRequest): NestInput {
  const result = parseNestRequest(request);
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
}

/** What must hold of every layout, judged by a checker that knows nothing of how it was made. */
function expectSound(input: NestInput, layout: NestLayout): void {
  const sizes = new Map(input.pieces.map((piece) => [piece.id, piece]));
  const laid = layout.placements.map((p) => {
    const piece = sizes.get(p.id);
    if (!piece) throw new Error(`${p.id} was never given`);
    if (p.angleDeg !== 0) expect(piece.quarterTurn).toBe(true);
    return {
      key: `${p.id}#${String(p.copy)}`,
      xMm: p.xMm,
      yMm: p.yMm,
      widthMm: p.angleDeg === 90 ? piece.heightMm : piece.widthMm,
      heightMm: p.angleDeg === 90 ? piece.widthMm : piece.heightMm,
    };
  });
  const { margins } = input;
  const clashes = findClashes(laid, { ...margins, widthMm: input.widthMm, gapXMm: input.gapXMm, gapYMm: input.gapYMm });
  expect(clashes).toEqual([]);
  const owed = input.pieces.flatMap((piece) =>
    Array.from({ length: piece.copies }, (_, copy) => `${piece.id}#${String(copy)}`),
  );
  expect(laid.map((piece) => piece.key).sort()).toEqual(owed.sort());
  const end = Math.max(...laid.map((piece) => piece.yMm + piece.heightMm));
  expect(layout.lengthMm).toBeCloseTo(end + margins.trailMm, 6);
  expect(layout.lengthMm).toBeGreaterThanOrEqual(lowerBoundMm(input) - 1e-4);
}

const anyRequest = fc.record({
  widthMm: fc.integer({ min: 3000, max: 16_000 }).map((n) => n / 10),
  gapMm: fc.oneof(
    fc.integer({ min: 0, max: 200 }).map((n) => n / 10),
    fc.record({ x: fc.integer({ min: 0, max: 20 }), y: fc.integer({ min: 0, max: 20 }) }),
  ),
  marginMm: fc.oneof(
    fc.constant(0),
    fc.record({ leadMm: fc.constant(20), trailMm: fc.constant(7), leftMm: fc.constant(5), rightMm: fc.constant(12) }),
  ),
  pieces: fc.array(
    fc.record({
      widthMm: fc.integer({ min: 100, max: 2800 }).map((n) => n / 10),
      heightMm: fc.integer({ min: 100, max: 9000 }).map((n) => n / 10),
      copies: fc.integer({ min: 1, max: 6 }),
      quarterTurn: fc.boolean(),
    }),
    { minLength: 1, maxLength: 25 },
  ),
});

test('any order comes out whole: no overlap, inside the margins, every copy once, the gap kept', () => {
  fc.assert(
    fc.property(anyRequest, fc.integer(), (request, seed) => {
      const input = parsed({
        ...request,
        pieces: request.pieces.map((piece, i) => ({ ...piece, id: `p${String(i)}` })),
      });
      expectSound(input, nest(input, { seed, stepBudget: 400 }));
    }),
    { numRuns: 80, seed: 20261006 },
  );
});

test.each([
  ['guillotine', true, 0, 0],
  ['guillotine', false, 5, 10],
  ['pinwheel', true, 3, 0],
  ['pinwheel', false, 0, 12],
] as const)(
  'zero-waste %s cuts, turning %s, gap %s, margin %s: sound, and within 6 %% in a small budget',
  (cut, quarterTurn, gapMm, marginMm) => {
    for (const seed of [1, 2]) {
      const { request, optimumMm } = zeroWasteInstance(
        { pieces: 100, widthMm: 1340, lengthMm: 2400, gapMm, marginMm, quarterTurn, cut, stepMm: 0.5 },
        seededRandom(seed),
      );
      const input = parsed(request);
      expect(lowerBoundMm(input)).toBeLessThanOrEqual(optimumMm + 1e-6);
      const layout = nest(input, { seed: 1, stepBudget: 40_000 });
      expectSound(input, layout);
      expect(layout.lengthMm / optimumMm).toBeLessThan(1.06);
    }
  },
);

test.each([
  [400, true, 0],
  [900, false, 3.2],
  [2000, true, 5],
] as const)(
  '%s pieces, turning %s, gap %s: rows that fill the width are sound and lose little',
  (pieces, quarterTurn, gapMm) => {
    const { request, optimumMm } = zeroWasteInstance(
      {
        pieces,
        widthMm: 914.4,
        lengthMm: pieces * 12,
        gapMm,
        marginMm: 8,
        quarterTurn,
        cut: 'pinwheel',
        stepMm: 0.1,
        evenness: 0.25,
      },
      seededRandom(pieces),
    );
    const input = parsed(request);
    const layout = nest(input, { seed: 3, stepBudget: 30_000 });
    expectSound(input, layout);
    expect(layout.lengthMm / optimumMm).toBeLessThan(1.025);
    expect(nest(input, { seed: 3, stepBudget: layout.steps })).toEqual(layout);
  },
);

test('the same seed and step budget give the same layout, also when a stop ended the first one', () => {
  const { request } = zeroWasteInstance(
    {
      pieces: 60,
      widthMm: 900,
      lengthMm: 1500,
      gapMm: 4,
      marginMm: 0,
      quarterTurn: true,
      cut: 'guillotine',
      stepMm: 1,
    },
    seededRandom(9),
  );
  const input = parsed(request);
  let asked = 0;
  const first = nest(input, { seed: 5, stepBudget: 1e9, shouldStop: () => (asked += 1) > 9000 });
  const again = nest(input, { seed: 5, stepBudget: first.steps });
  expect(again).toEqual(first);
  expect(nest(input, { seed: 5, stepBudget: first.steps })).toEqual(again);
});

test('better layouts are told as they are found, each shorter than the one before', () => {
  const { request } = zeroWasteInstance(
    {
      pieces: 80,
      widthMm: 1000,
      lengthMm: 2000,
      gapMm: 0,
      marginMm: 0,
      quarterTurn: true,
      cut: 'guillotine',
      stepMm: 1,
    },
    seededRandom(4),
  );
  const lengths: number[] = [];
  const last = nest(parsed(request), {
    seed: 1,
    stepBudget: 30_000,
    onBetter: (layout) => lengths.push(layout.lengthMm),
  });
  expect(lengths.length).toBeGreaterThan(1);
  expect([...lengths].sort((a, b) => b - a)).toEqual(lengths);
  expect(lengths[lengths.length - 1]).toBe(last.lengthMm);
});

test('the bound of the worked case is met exactly, and ends the search', () => {
  const input = parsed({
    widthMm: 100,
    gapMm: 0.1,
    marginMm: 0,
    pieces: [{ id: 'a', widthMm: 100, heightMm: 33.4, copies: 3, quarterTurn: false }],
  });
  expect(lowerBoundMm(input)).toBeCloseTo(100.4, 9);
  const layout = nest(input, { seed: 1, stepBudget: 1e6 });
  expect(layout.lengthMm).toBeCloseTo(100.4, 6);
  expect(layout.steps).toBeLessThan(100);
});

test('what can not be nested is refused with its figures', () => {
  const base = { widthMm: 500, gapMm: 0, marginMm: 10 };
  const piece = { id: 'wide', widthMm: 600, heightMm: 490, copies: 1, quarterTurn: true };
  expect(parseNestRequest({ ...base, pieces: [piece] })).toEqual({
    ok: false,
    reason: { code: 'too-wide', id: 'wide', leastWidthMm: 490, usableWidthMm: 480 },
  });
  expect(parseNestRequest({ ...base, pieces: [] })).toEqual({ ok: false, reason: { code: 'nothing-to-nest' } });
  expect(parseNestRequest({ ...base, gapMm: Number.NaN, pieces: [piece] })).toMatchObject({
    ok: false,
    reason: { code: 'bad-figure', field: 'gapMm.x' },
  });
  expect(parseNestRequest({ ...base, pieces: [{ ...piece, copies: 60_000 }] })).toMatchObject({
    ok: false,
    reason: { code: 'too-many', got: 60_000 },
  });
});

test('the checker finds what is wrong: overlap, lost gap, out of bounds', () => {
  const limits = { widthMm: 300, leftMm: 10, rightMm: 10, leadMm: 5, gapXMm: 4, gapYMm: 4 };
  const at = (key: string, xMm: number, yMm: number) => ({ key, xMm, yMm, widthMm: 100, heightMm: 50 });
  expect(findClashes([at('a', 10, 5), at('b', 114, 5)], limits)).toEqual([]);
  expect(findClashes([at('a', 10, 5), at('b', 113, 5)], limits)).toEqual([{ kind: 'pair', a: 'a', b: 'b' }]);
  expect(findClashes([at('a', 10, 5), at('b', 60, 58)], limits)).toEqual([{ kind: 'pair', a: 'a', b: 'b' }]);
  expect(findClashes([at('a', 195, 5)], limits)).toEqual([{ kind: 'out-of-bounds', key: 'a', overMm: 5 }]);
});

test('pieces that are held keep their place across the media, clear of each other; the rest is nested behind them', () => {
  const size = fc.record({
    w: fc.integer({ min: 20, max: 300 }),
    h: fc.integer({ min: 20, max: 300 }),
    held: fc.option(fc.integer({ min: 0, max: 100 })),
  });
  fc.assert(
    fc.property(fc.array(size, { minLength: 1, maxLength: 14 }), (sizes) => {
      const pieces = sizes.map(({ w, h, held }, i) => ({
        id: String(i),
        widthMm: w,
        heightMm: h,
        copies: 1,
        quarterTurn: true,
        ...(held === null ? {} : { held: { xMm: held, beforeMm: 7 } }),
      }));
      const parsed = parseNestRequest({ widthMm: 600, gapMm: 5, marginMm: 10, pieces });
      if (!parsed.ok) throw new Error(parsed.reason.code);
      const layout = nest(parsed.value, { seed: 1, stepBudget: 40 });
      expect(layout.placements).toHaveLength(pieces.length);
      const rects = layout.placements.map(({ id, xMm, yMm, angleDeg }) => {
        const piece = pieces[Number(id)];
        const [widthMm, heightMm] =
          angleDeg === 90 ? [piece?.heightMm, piece?.widthMm] : [piece?.widthMm, piece?.heightMm];
        if (piece?.held) expect([xMm, angleDeg]).toEqual([10 + piece.held.xMm, 0]);
        return { key: id, xMm, yMm, widthMm: widthMm ?? 0, heightMm: heightMm ?? 0 };
      });
      expect(findClashes(rects, { widthMm: 600, leftMm: 10, rightMm: 10, leadMm: 10, gapXMm: 5, gapYMm: 5 })).toEqual(
        [],
      );
    }),
    { seed: 4, numRuns: 60 },
  );
});

test('a place rule counts from the edge that the media is registered against', () => {
  expect(placeAcross({ kind: 'nested' }, 'left', 900, 300)).toBeUndefined();
  expect(placeAcross({ kind: 'from edge', mm: 20 }, 'left', 900, 300)?.xMm).toBe(20);
  expect(placeAcross({ kind: 'from edge', mm: 20 }, 'right', 900, 300)?.xMm).toBe(580);
  expect(placeAcross({ kind: 'below collar', mm: 80 }, 'left', 400, 300)).toEqual({ xMm: 50, beforeMm: 80 });
  const wide = { id: 'w', widthMm: 300, heightMm: 50, copies: 1, quarterTurn: true, held: { xMm: 700, beforeMm: 0 } };
  expect(parseNestRequest({ widthMm: 900, gapMm: 0, marginMm: 0, pieces: [wide] })).toMatchObject({
    reason: { code: 'too-wide' },
  });
});
