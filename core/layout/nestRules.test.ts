import { lowerBoundMm } from './bound.ts';
import fc from 'fast-check';
import { turnedSize } from '../geometry/turn.ts';
import { findClashes } from './checkLayout.ts';
import type { NestLayout } from './nestLayout.ts';
import { nest } from './nest.ts';
import { type NestInput, type NestRequest, parseNestRequest } from './nestInput.ts';

function parsed(request: NestRequest): NestInput {
  const result = parseNestRequest(request);
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
}

interface Laid {
  readonly key: string;
  readonly id: string;
  readonly group: number;
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

function laidOf(input: NestInput, layout: NestLayout): Laid[] {
  return layout.placements.map(({ id, copy, xMm, yMm, angleDeg }) => {
    const piece = input.pieces.find((each) => each.id === id);
    if (!piece) throw new Error(`${id} was never given`);
    if (piece.grain === 'along') expect(angleDeg).toBe(0);
    else if (piece.grain === 'across') expect(angleDeg).toBe(90);
    else if (!piece.quarterTurn) expect(angleDeg).toBe(0);
    const size = turnedSize(piece.widthMm, piece.heightMm, angleDeg);
    return { key: `${id}#${String(copy)}`, id, group: piece.group ?? 0, xMm, yMm, ...size };
  });
}

/** Whether cuts that go right through part these rectangles, each time into two heaps, down to single ones. */
function straightCuttable(rects: readonly Laid[]): boolean {
  if (rects.length < 2) return true;
  for (const [from, size] of [
    ['xMm', 'widthMm'],
    ['yMm', 'heightMm'],
  ] as const) {
    const order = [...rects].sort((a, b) => a[from] - b[from]);
    let reach = -Infinity;
    for (const [i, rect] of order.entries()) {
      if (i > 0 && rect[from] >= reach - 1e-6)
        return straightCuttable(order.slice(0, i)) && straightCuttable(order.slice(i));
      reach = Math.max(reach, rect[from] + rect[size]);
    }
  }
  return false;
}

const anyRules = fc.record({
  order: fc.constantFrom('free' as const, 'groups' as const, 'given' as const),
  straightCuts: fc.boolean(),
  sheetMm: fc.constantFrom(undefined, 700, 1000.4),
  gapMm: fc.constantFrom(0, 4.3),
  marginMm: fc.constant({ leadMm: 20, trailMm: 7, leftMm: 5, rightMm: 12 }),
  pieces: fc.array(
    fc.record({
      widthMm: fc.integer({ min: 200, max: 4800 }).map((n) => n / 10),
      heightMm: fc.integer({ min: 200, max: 4800 }).map((n) => n / 10),
      copies: fc.integer({ min: 1, max: 7 }),
      quarterTurn: fc.boolean(),
      grain: fc.constantFrom('free' as const, 'free' as const, 'along' as const, 'across' as const),
      together: fc.boolean(),
      group: fc.integer({ min: 0, max: 3 }),
    }),
    { minLength: 1, maxLength: 9 },
  ),
});

test('every rule holds at once: sizes, gap, margins, grain, sheets, straight cuts, order, copies together', () => {
  fc.assert(
    fc.property(anyRules, fc.integer({ min: 0, max: 1000 }), ({ sheetMm, ...request }, seed) => {
      const pieces = request.pieces.map((piece, i) => ({ ...piece, id: `p${String(i)}` }));
      const input = parsed({ widthMm: 1000, ...request, pieces, ...(sheetMm === undefined ? {} : { sheetMm }) });
      const layout = nest(input, { seed, stepBudget: 120 });
      const laid = laidOf(input, layout);
      const owed = pieces.flatMap(({ id, copies }) => Array.from({ length: copies }, (_, c) => `${id}#${String(c)}`));
      expect(laid.map(({ key }) => key).sort()).toEqual(owed.sort());
      const limits = { ...request.marginMm, widthMm: 1000, gapXMm: request.gapMm, gapYMm: request.gapMm };
      const sheets = new Map<number, Laid[]>();
      for (const piece of laid) {
        const sheet = sheetMm === undefined ? 0 : Math.floor(piece.yMm / sheetMm);
        const local = { ...piece, yMm: piece.yMm - sheet * (sheetMm ?? 0) };
        sheets.set(sheet, [...(sheets.get(sheet) ?? []), local]);
        if (sheetMm !== undefined) expect(local.yMm + local.heightMm).toBeLessThanOrEqual(sheetMm - 7 + 1e-6);
      }
      for (const sheet of sheets.values()) {
        expect(findClashes(sheet, limits)).toEqual([]);
        if (input.straightCuts || input.order === 'given') expect(straightCuttable(sheet)).toBe(true);
      }
      expect(layout.lengthMm).toBeGreaterThanOrEqual(layout.boundMm - 1e-6);
      if (sheetMm !== undefined) expect(layout.lengthMm).toBeCloseTo((Math.max(...sheets.keys()) + 1) * sheetMm, 6);
      if (input.order === 'groups' && !input.straightCuts) expectGroupsInOrder(laid);
      if (input.order === 'given') {
        // Blocks are laid in order as a whole; their copies lie within them.
        const firsts = pieces.map(({ id }) => laid.find((piece) => piece.id === id)?.yMm ?? NaN);
        expect(firsts).toEqual([...firsts].sort((a, b) => a - b));
      }
    }),
    { numRuns: 220, seed: 4 },
  );
});

/** In every column of the media, nothing of a later group begins before an earlier one. */
function expectGroupsInOrder(laid: readonly Laid[]): void {
  for (const a of laid)
    for (const b of laid) {
      const sameColumn = a.xMm < b.xMm + b.widthMm - 1e-6 && b.xMm < a.xMm + a.widthMm - 1e-6;
      if (sameColumn && a.group < b.group) expect(a.yMm).toBeLessThan(b.yMm);
    }
}

test.each([
  // Copies, their size, the length that the best of all blocks takes.
  [7, 100, 60, 60],
  [12, 300, 200, 600],
  [5, 400, 300, 400],
  [30, 50, 80, 80],
  [7, 700, 60, 240],
])(
  '%i copies of %i × %i mm in one block take %i mm of a roll, and no empty place counts as used',
  (copies, w, h, best) => {
    const input = parsed({
      widthMm: 1590,
      gapMm: 0,
      marginMm: 0,
      pieces: [{ id: 'a', widthMm: w, heightMm: h, copies, quarterTurn: true, together: true }],
    });
    const layout = nest(input, { seed: 1, stepBudget: 20_000 });
    expect(layout.lengthMm).toBe(best);
    // All blocks were tried, so that is proven; what the bare area says is less.
    expect(layout.boundMm).toBe(best);
    expect(layout.boundMm).toBeGreaterThanOrEqual(lowerBoundMm(input));
    expect(layout.utilisation).toBeCloseTo((copies * w * h) / (1590 * best), 9);
    // By counting: every number of columns, both ways.
    const lengths = [
      [w, h],
      [h, w],
    ].flatMap(([across = 1, along = 1]) =>
      Array.from(
        { length: Math.min(copies, Math.floor(1590 / across)) },
        (_, i) => Math.ceil(copies / (i + 1)) * along,
      ),
    );
    expect(best).toBe(Math.min(...lengths));
  },
);

test('copies kept together are one block with nothing else in it', () => {
  const pieces = [
    { id: 'label', widthMm: 90, heightMm: 50, copies: 23, quarterTurn: true, together: true },
    { id: 'card', widthMm: 148, heightMm: 105, copies: 8, quarterTurn: true, together: true },
    ...Array.from({ length: 12 }, (_, i) => ({
      id: `loose${String(i)}`,
      widthMm: 60 + 17 * i,
      heightMm: 240 - 13 * i,
      copies: 1,
      quarterTurn: true,
    })),
  ];
  const input = parsed({ widthMm: 900, gapMm: 3, marginMm: 10, pieces });
  const laid = laidOf(input, nest(input, { seed: 1, stepBudget: 6000 }));
  for (const id of ['label', 'card']) {
    const own = laid.filter((piece) => piece.id === id);
    const box = (each: readonly Laid[]): { x0: number; y0: number; x1: number; y1: number } => ({
      x0: Math.min(...each.map((p) => p.xMm)),
      y0: Math.min(...each.map((p) => p.yMm)),
      x1: Math.max(...each.map((p) => p.xMm + p.widthMm)),
      y1: Math.max(...each.map((p) => p.yMm + p.heightMm)),
    });
    const { x0, y0, x1, y1 } = box(own);
    const strangers = laid.filter(
      (p) => p.id !== id && p.xMm < x1 && x0 < p.xMm + p.widthMm && p.yMm < y1 && y0 < p.yMm + p.heightMm,
    );
    expect(strangers).toEqual([]);
    // At most one row of it is not full.
    const area = own.reduce((sum, p) => sum + (p.widthMm + 3) * (p.heightMm + 3), 0);
    const rowArea = (x1 - x0 + 3) * ((own[0]?.heightMm ?? 0) + 3);
    expect((x1 - x0 + 3) * (y1 - y0 + 3) - area).toBeLessThan(rowArea);
  }
});

test('rows in the order given are as short as rows can be, by enumeration of every way to part them', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 })), {
        minLength: 1,
        maxLength: 7,
      }),
      (sizes) => {
        const pieces = sizes.map(([w, h], i) => ({
          id: `p${String(i)}`,
          widthMm: w,
          heightMm: h,
          copies: 1,
          quarterTurn: true,
        }));
        const input = parsed({ widthMm: 10, gapMm: 0, marginMm: 0, pieces, order: 'given' });
        expect(nest(input, { seed: 1, stepBudget: 1 }).lengthMm).toBeCloseTo(shortestRows(sizes, 10), 6);
      },
    ),
    { numRuns: 120, seed: 9 },
  );
});

function shortestRows(sizes: readonly (readonly [number, number])[], width: number): number {
  const n = sizes.length;
  let best = Infinity;
  for (let turns = 0; turns < 1 << n; turns++) {
    const laid = sizes.map(([w, h], i): readonly [number, number] => ((turns >> i) & 1 ? [h, w] : [w, h]));
    for (let breaks = 0; breaks < 1 << (n - 1); breaks++) {
      let total = 0;
      let used = 0;
      let high = 0;
      let fits = true;
      for (const [i, [w, h]] of laid.entries()) {
        if (i > 0 && (breaks >> (i - 1)) & 1) {
          total += high;
          used = high = 0;
        }
        used += w;
        high = Math.max(high, h);
        if (used > width) fits = false;
      }
      if (fits) best = Math.min(best, total + high);
    }
  }
  return best;
}

test('sheets: as few as can be, and a piece that is longer than a sheet is refused with the figures', () => {
  const quarter = { id: 'q', widthMm: 500, heightMm: 700, copies: 9, quarterTurn: false };
  const input = parsed({ widthMm: 1000, gapMm: 0, marginMm: 0, sheetMm: 1400, pieces: [quarter] });
  const layout = nest(input, { seed: 1, stepBudget: 100 });
  expect([layout.lengthMm, layout.boundMm]).toEqual([3 * 1400, 3 * 1400]);
  expect(
    parseNestRequest({
      widthMm: 1000,
      gapMm: 0,
      marginMm: { leadMm: 20, trailMm: 20, leftMm: 0, rightMm: 0 },
      sheetMm: 700,
      pieces: [quarter],
    }),
  ).toEqual({ ok: false, reason: { code: 'too-long', id: 'q', leastLengthMm: 700, usableLengthMm: 660 } });
});
