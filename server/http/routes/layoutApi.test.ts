import { type Answered, type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { Ajv } from 'ajv';
import { NestAnswer, type RunDetail } from '../../../contract/api/run.ts';
import type { StepAnswer } from '../../../contract/api/step.ts';
import { type TestShop, admitPlain } from '../../testing/shopFixture.ts';

let http: TestHttp;
let shop: TestShop;

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop } = http);
});
afterEach(() => http.close());

const codeOf = (answer: { body: unknown }): string => (answer.body as { error: { code: string } }).error.code;

const call = <A extends Answered<unknown> = Answered<unknown>>(
  method: string,
  path: string,
  body?: unknown,
): Promise<A> => http.call(method, path, body) as Promise<A>;

interface Answer {
  readonly lengthMm: number;
  readonly sheets: number | null;
  readonly utilisation: number;
  readonly placements: readonly {
    readonly id: string;
    readonly yMm: number;
    readonly sheet: number;
    readonly angleDeg: number;
    readonly turned: boolean;
  }[];
}

const NEST = { widthMm: 1000, gapMm: 0, marginMm: 0, seed: 1, timeLimitMs: 100, stepBudget: 300 };
const CARD = { id: 'card', widthMm: 500, heightMm: 700, copies: 6, quarterTurn: false };
const isAnswer = new Ajv({ strict: false }).compile(NestAnswer);

async function nested(request: object): Promise<Answer> {
  const { status, body } = await call<Answered<Answer>>('POST', '/api/layout/nest', { ...NEST, ...request });
  expect([status, isAnswer(body), isAnswer.errors]).toEqual([200, true, null]);
  return body;
}

test('sheets by the API: how many, and where each piece lies on its own', async () => {
  const { lengthMm, sheets, placements } = await nested({ sheetMm: 1400, pieces: [CARD] });
  expect([lengthMm, sheets]).toEqual([2800, 2]);
  expect(placements.map(({ sheet, yMm }) => `${String(sheet)} ${String(yMm)}`).sort()).toEqual(
    ['0 0', '0 0', '0 700', '0 700', '1 0', '1 0'].sort(),
  );
  expect((await nested({ pieces: [CARD] })).sheets).toBeNull();
});

test('grain, order and fixed rectangles by the API', async () => {
  const grain = await nested({ pieces: [{ ...CARD, copies: 1, quarterTurn: true, grain: 'across' }] });
  expect(grain.placements[0]).toMatchObject({ angleDeg: 90, turned: true });
  const pieces = [
    { ...CARD, id: 'late', widthMm: 1000, copies: 1, group: 2 },
    { ...CARD, id: 'soon', widthMm: 1000, copies: 1, group: 1 },
  ];
  const ordered = await nested({ order: 'groups', pieces });
  expect([...ordered.placements].sort((a, b) => a.yMm - b.yMm).map(({ id }) => id)).toEqual(['soon', 'late']);
  const fixed = [{ xMm: 0, yMm: 0, widthMm: 1000, heightMm: 50 }];
  expect((await nested({ fixed, pieces: [{ ...CARD, copies: 1 }] })).placements[0]?.yMm).toBe(50);
});

test('what can’t be is refused with its figures, its limit and a way out, and never laid out', async () => {
  const refused = async (request: object) => {
    const { status, body } = await call<Answered<{ error: { code: string; message: string } }>>(
      'POST',
      '/api/layout/nest',
      {
        ...NEST,
        pieces: [{ ...CARD, copies: 1 }],
        ...request,
      },
    );
    expect(status).toBe(422);
    return `${body.error.code}: ${body.error.message}`;
  };
  expect(await refused({ pieces: [CARD, { ...CARD, widthMm: 10 }] })).toBe('id-twice: Two pieces are called card.');
  expect(await refused({ pieces: [{ ...CARD, grain: 'across' }] })).toBe(
    'must-turn: card must lie across the grain, which takes a quarter turn, and may not be turned.',
  );
  const at = (xMm: number, yMm: number) => ({ xMm, yMm, widthMm: 300, heightMm: 200 });
  expect(await refused({ fixed: [at(0, 0), at(500, 0), at(650, 100)] })).toBe(
    'fixed-too-close: Fixed rectangles 1 and 2 overlap, or lie closer than the gap of 0 × 0\u00a0mm.',
  );
  expect(await refused({ gapMm: 5, fixed: [at(0, 0), at(303, 0)] })).toContain('closer than the gap of 5 × 5\u00a0mm');
  expect(await refused({ fixed: [at(740, 0)] })).toBe(
    'fixed-outside: Fixed rectangle 0 reaches 40\u00a0mm beyond the room for pieces: 0\u00a0mm to 1,000\u00a0mm across, 0\u00a0mm and on along the media.',
  );
  expect(await refused({ marginMm: 10, fixed: [at(0, 50)] })).toContain('reaches 10\u00a0mm beyond');
  expect(await refused({ marginMm: { leadMm: -1, trailMm: 0, leftMm: 0, rightMm: 0 } })).toBe(
    "bad-figure: marginMm.leadMm can't be -1: it is 0 at least and 10000000 at most.",
  );
  // What lies well is taken as before, and the use of the media is never above all of it.
  const well = await nested({ fixed: [at(0, 0), at(700, 0)], pieces: [{ ...CARD, copies: 1 }] });
  expect(well.utilisation).toBeLessThanOrEqual(1);
});

test('contours by the API: two halves of a square share it, and what can not be is refused with a way out', async () => {
  const half = [
    { x: 0, y: 0 },
    { x: 1000, y: 0 },
    { x: 0, y: 800 },
  ];
  const piece = { id: 'half', widthMm: 1000, heightMm: 800, copies: 2, quarterTurn: false, outline: half };
  const { lengthMm, placements } = await nested({ timeLimitMs: 3000, stepBudget: 4000, pieces: [piece] });
  expect(lengthMm).toBeLessThan(880);
  expect(placements.map(({ angleDeg }) => angleDeg).sort()).toEqual([0, 180]);
  const upright = await nested({ pieces: [{ ...piece, halfTurn: false }] });
  expect(upright.placements.map(({ angleDeg }) => angleDeg)).toEqual([0, 0]);
  const refused = async (request: object) => {
    const { status, body } = await call<Answered<{ error: { code: string; message: string; remedy?: string } }>>(
      'POST',
      '/api/layout/nest',
      { ...NEST, ...request },
    );
    return [status, body.error.code, body.error.message, body.error.remedy];
  };
  expect(await refused({ straightCuts: true, pieces: [piece] })).toEqual([
    422,
    'not-with-outlines',
    "Contours can't be nested with straight cuts yet.",
    'Leave the contours out: rectangles can.',
  ]);
  expect(await refused({ sheetMm: 600, pieces: [CARD] })).toEqual([
    422,
    'too-long',
    'card is longer than a sheet between its margins: 700\u00a0mm of 600\u00a0mm.',
    'Allow a quarter turn, or take larger sheets.',
  ]);
  const crossed = [half[0], half[1], { x: 1000, y: 800 }, half[2], { x: 900, y: -1 }];
  expect((await refused({ pieces: [{ ...piece, outline: crossed }] }))[1]).toBe('bad-outline');
  expect((await refused({ pieces: [{ ...piece, turnStepDeg: 0 }] }))[1]).toBe('bad-request');
});

test('two sides by the API: made, changed, refused where it can not be, and given up', async () => {
  const jobId = admitPlain(shop, 'leaflet.pdf', [
    [300, 200],
    [300, 200],
  ]);
  const { body: run } = await call<Answered<RunDetail>>('POST', '/api/runs', { jobIds: [jobId] });
  const path = `/api/runs/${run.id}/two-sides`;
  const plain = { turn: 'side for side', content: 'readable', pieceTurn: 'like a book' };
  expect(codeOf(await call('POST', path, { ...plain, backs: { kind: 'nothing' } }))).toBe('bad-request');
  expect(codeOf(await call('PUT', path, plain))).toBe('one-sided');
  const { body: front } = await call<Answered<RunDetail>>('POST', path, {
    ...plain,
    backs: { kind: 'every second page' },
  });
  expect(front.pair).toMatchObject({ side: 'front', turn: 'side for side', offsetXMm: 0, confirmed: false });
  expect(codeOf(await call('POST', path, { ...plain, backs: { kind: 'the same picture' } }))).toBe('two-sided');
  const backId = front.pair?.otherRunId ?? '';
  const changed = await call<Answered<RunDetail>>('PUT', `/api/runs/${backId}/two-sides`, { ...plain, offsetXMm: 0.4 });
  expect(changed.body.pair).toMatchObject({ side: 'back', offsetXMm: 0.4 });
  expect((await call<Answered<RunDetail>>('GET', `/api/runs/${run.id}`)).body.pair).toMatchObject({ offsetXMm: 0.4 });
  expect(codeOf(await call('POST', `/api/runs/${run.id}/segments`, { mostMm: 500 }))).toBe('two-sided');
  expect(codeOf(await call('POST', `/api/runs/${backId}/confirm-back`, { spoolId: front.spoolId }))).toBe(
    'front-first',
  );
  expect(codeOf(await call('POST', `/api/runs/${run.id}/confirm-back`, { spoolId: front.spoolId }))).toBe('no-back');
  const { body: alone } = await call<Answered<RunDetail>>('POST', `/api/runs/${backId}/one-side`);
  expect(alone).toMatchObject({ id: run.id, pair: null, pieceCount: 2 });
});

test('rows of one piece by the API: by count, by length, shifted and turned; what can not be is refused with its figures', async () => {
  const ask = (request: object) => {
    const order = { widthMm: 100, heightMm: 60, roomMm: 1000, gapMm: 5, ...request };
    return call<Answered<StepAnswer>>('POST', '/api/layout/step', order);
  };
  const stepped = async (request: object): Promise<StepAnswer> => (await ask(request)).body;
  // 9 across: 9 × 100 + 8 × 5 = 940; 25 are three rows: 3 × 60 + 2 × 5.
  expect(await stepped({ count: 25 })).toMatchObject({ columns: 9, rows: 3, count: 25, extentMm: 190 });
  // In 500 mm: seven rows of 65 less a gap are 450, eight would be 515.
  expect(await stepped({ lengthMm: 500, columns: 4 })).toMatchObject({ rows: 7, count: 28, extentMm: 450 });
  const { placements } = await stepped({ count: 10, gapMm: { x: 5, y: 20 }, stagger: 'rows', everySecond: 'half' });
  expect(placements[9]).toEqual({ xMm: 52.5, yMm: 80, angleDeg: 180 });
  expect(codeOf(await ask({}))).toBe('endless');
  expect(codeOf(await ask({ count: 1, widthMm: 1200 }))).toBe('no-room');
});

test('sheets are no segments, and a job in one piece has no assembly map', async () => {
  const jobId = admitPlain(shop, 'card.pdf', [[300, 200]], 'magpie-labels');
  const { body: run } = await call<Answered<RunDetail>>('POST', '/api/runs', { jobIds: [jobId] });
  const settings = { ...run.settings, sheetMm: 500 };
  await call('PUT', `/api/runs/${run.id}/layout`, { settings, placements: [] });
  expect(await call('POST', `/api/runs/${run.id}/segments`, {})).toMatchObject({
    status: 409,
    body: { error: { code: 'on-sheets' } },
  });
  expect(await call('GET', `/api/jobs/${jobId}/assembly`)).toMatchObject({
    status: 409,
    body: { error: { code: 'no-panels' } },
  });
});
