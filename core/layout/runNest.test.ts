import { nest } from './nest.ts';
import { type NestRules, RUN_ORDERS, type RunNestPiece, runNest } from './runNest.ts';

const RULES: NestRules = { gapMm: 5, leadMm: 20, trailMm: 10, quarterTurns: true };

function piece(pieceId: string, change: Partial<RunNestPiece> = {}): RunNestPiece {
  return {
    pieceId,
    jobId: `job of ${pieceId}`,
    page: 0,
    part: null,
    widthMm: 300,
    heightMm: 200,
    quarterTurn: true,
    halfTurn: true,
    grain: 'free',
    together: false,
    place: { kind: 'nested' },
    dueMs: null,
    customer: null,
    orderNo: null,
    panel: null,
    turnEverySecond: false,
    ...change,
  };
}

function problem(pieces: readonly RunNestPiece[], rules: Partial<NestRules> = {}) {
  const made = runNest(pieces, { ...RULES, ...rules }, 1000, 'left');
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  return made.value;
}

/** The pieces in the order in which they come out of the printer, those beside each other from the left. */
function order(pieces: readonly RunNestPiece[], rules: Partial<NestRules>): string[] {
  const { input, place } = problem(pieces, rules);
  const laid = nest(input, { seed: 1, stepBudget: 200 }).placements.map(place);
  return [...laid].sort((a, b) => a.yMm - b.yMm || a.xMm - b.xMm).map(({ pieceId }) => pieceId);
}

test('each order puts on the media first what it says: by due date, customer, order and job; what has none comes last', () => {
  // As wide as the media: the order is a line.
  const wide = { widthMm: 1000, quarterTurn: false };
  const pieces = [
    piece('a', { ...wide, dueMs: null, customer: 'Quillon', orderNo: '2' }),
    piece('d', { ...wide, jobId: 'job of a', dueMs: null, customer: 'Quillon', orderNo: '2' }),
    piece('b', { ...wide, dueMs: 20, customer: null, orderNo: '1' }),
    piece('c', { ...wide, dueMs: 10, customer: 'Quillon', orderNo: null }),
  ];
  const by = Object.fromEntries(RUN_ORDERS.map((each) => [each, order(pieces, { order: each }).join('')]));
  expect(by['due date first']).toMatch(/^cb[ad]{2}$/);
  expect(by['customer by customer']?.indexOf('b')).toBe(3);
  expect(by['order by order']).toMatch(/^[ad]{2}bc$/);
  expect(by['job by job']).toMatch(/^[ad]{2}bc$/);
  expect(by['as listed']).toBe('adbc');
  // As a person put the jobs; one that is not named comes behind.
  const jobOrder = ['job of c', 'job of a'];
  expect(order(pieces, { order: 'as listed', jobOrder })).toEqual(['c', 'a', 'd', 'b']);
  expect(order(pieces, { order: 'as listed', jobOrder, sheetMm: 900, places: { columns: 1, rows: 3 } })).toEqual([
    'c',
    'a',
    'd',
    'b',
  ]);
  expect((by.free ?? '').split('').sort().join('')).toBe('abcd');
});

test('copies of one page are one piece of the nest and come back as themselves; the run may forbid what a job allows', () => {
  const same = { jobId: 'job' };
  const pieces = [
    piece('a', same),
    piece('b', same),
    piece('c', { ...same, page: 1 }),
    piece('d', { ...same, part: 'black' }),
  ];
  const { input, place } = problem(pieces, { quarterTurns: false });
  expect(input.pieces.map(({ id, copies, quarterTurn }) => [id, copies, quarterTurn])).toEqual([
    ['a', 2, false],
    ['c', 1, false],
    ['d', 1, false],
  ]);
  const laid = nest(input, { seed: 1, stepBudget: 50 }).placements.map(place);
  expect(laid.map(({ pieceId }) => pieceId).sort()).toEqual(['a', 'b', 'c', 'd']);
  expect(() => place({ id: 'a', copy: 2, xMm: 0, yMm: 0, angleDeg: 0 })).toThrow('copy 2 of a was never given');
});

test('every second panel lies turned by half; a place across the media is kept; locked ones are in the way', () => {
  const panel = (no: number) =>
    piece(`p${String(no)}`, { jobId: 'wall', panel: { no }, turnEverySecond: true, quarterTurn: false });
  const { input, place } = problem([panel(1), panel(2), panel(3)]);
  const angles = nest(input, { seed: 1, stepBudget: 50 }).placements.map(place);
  expect(Object.fromEntries(angles.map(({ pieceId, angleDeg }) => [pieceId, angleDeg]))).toEqual({
    p1: 0,
    p2: 180,
    p3: 0,
  });
  const held = problem([piece('held', { place: { kind: 'centred' } })]);
  expect(held.input.pieces[0]?.held).toEqual({ xMm: 350, beforeMm: 0 });
  const fixed = [{ xMm: 0, yMm: 20, widthMm: 1000, heightMm: 100 }];
  const around = runNest([piece('a')], RULES, 1000, 'left', fixed);
  if (!around.ok) throw new Error(around.reason.code);
  expect(nest(around.value.input, { seed: 1, stepBudget: 10 }).placements[0]?.yMm).toBeGreaterThanOrEqual(125);
});

test('what can not lie as it must is refused with the figures', () => {
  const refused = (change: Partial<RunNestPiece>, rules: Partial<NestRules> = {}) => {
    const made = runNest([piece('a', change)], { ...RULES, ...rules }, 1000, 'left');
    return made.ok ? undefined : made.reason;
  };
  expect(refused({ widthMm: 1200, grain: 'along' })).toMatchObject({ code: 'too-wide', leastWidthMm: 1200 });
  expect(refused({ widthMm: 1200, grain: 'across' })).toBeUndefined();
  expect(refused({ heightMm: 500, quarterTurn: false }, { sheetMm: 400 })).toMatchObject({
    code: 'too-long',
    leastLengthMm: 500,
    usableLengthMm: 370,
  });
});

test('only what is wider than the media is laid over its edges', () => {
  // The media is 996 mm wide; 2 mm over each edge make 1,000 that can be printed.
  const over = { leftMm: -2, rightMm: -2, gapMm: 0 };
  const laid = (widthMm: number) => {
    const { input, place } = problem([piece('a', { widthMm, quarterTurn: false })], over);
    return nest(input, { seed: 1, stepBudget: 50 }).placements.map(place)[0]?.xMm;
  };
  // From the left end of what can be printed: exactly on the media, and over both of its edges.
  expect(laid(996)).toBe(2);
  expect(laid(1000)).toBe(0);
  // It spans the media though it could be turned, and is shorter for it.
  const turnable = problem([piece('a', { widthMm: 1000, heightMm: 700 })], over);
  expect(nest(turnable.input, { seed: 1, stepBudget: 50 }).placements.map(turnable.place)).toMatchObject([
    { xMm: 0, angleDeg: 0 },
  ]);
  const upright = problem([piece('a', { widthMm: 700, heightMm: 1000 })], over);
  expect(nest(upright.input, { seed: 1, stepBudget: 50 }).placements.map(upright.place)).toMatchObject([
    { xMm: 0, angleDeg: 90 },
  ]);
  // Beside it, small pieces stay on the media: what lies over its edge would be lost.
  const both = problem([piece('a', { widthMm: 1000, heightMm: 300 }), piece('b'), piece('c'), piece('d')], over);
  const places = nest(both.input, { seed: 1, stepBudget: 50 }).placements.map(both.place);
  for (const { pieceId, xMm } of places) expect(xMm).toBeGreaterThanOrEqual(pieceId === 'a' ? 0 : 2);
  // Small pieces don't begin beside the media.
  const { input, place } = problem([piece('a'), piece('b'), piece('c')], over);
  const xs = nest(input, { seed: 1, stepBudget: 50 })
    .placements.map(place)
    .map(({ xMm }) => xMm);
  expect(Math.min(...xs)).toBe(2);
});
