import { eq } from 'drizzle-orm';
import type { AwayNow, NightProposal } from '../../../contract/api/away.ts';
import { eventSentence } from '../../../core/events/sentence.ts';
import { jobs, runs } from '../../db/tables/schema.ts';
import { events } from '../../db/tables/records.ts';
import { type Answered, type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { type TestShop, admitPlain, switchOn } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { queuedLine } from '../plan/lineOrder.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';

let http: TestHttp;
let shop: TestShop;
let tonight: { readonly fromMs: number; readonly toMs: number };

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop } = http);
  const nowMs = Date.parse('2027-03-24T17:05:00Z');
  Object.defineProperty(shop.clock, 'now', { value: () => nowMs });
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  // A search of a moment: what is tried here is that the night is taken and taken back.
  shop.work.replace('away night', (order, before) => before({ ...order, timeLimitMs: 400 }));
  const days = [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days, holidays: [] }, TESTER);
  switchOn(shop);
  const { body } = await http.call<AwayNow>('GET', '/api/away');
  tonight = body.suggested[0] ?? { fromMs: 0, toMs: 0 };
});
afterEach(() => http.close());

async function queued(name: string, queueId: string): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [[600, 400]], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}
const propose = (more: object = {}): Promise<Answered<NightProposal>> =>
  http.call<NightProposal>('POST', '/api/away/propose', { fromMs: tonight.fromMs, toMs: tonight.toMs, ...more });
/** Runs by their number: a run that is moved keeps it. */
const lines = () => ['heron', 'bittern', 'gannet'].map((id) => queuedLine(shop.db, id).map((run) => run.number));
const numberOf = (runId: string) => shop.db.select().from(runs).where(eq(runs.id, runId)).get()?.number;
const log = () =>
  shop.db
    .select()
    .from(events)
    .all()
    .map((row) => eventSentence(row));

test('what waits is put where it is worth most; taken in one step, and taken back in one', async () => {
  const standing = await queued('stands.pdf', 'bittern-photo');
  const waiting = admitPlain(shop, 'waits.pdf', [[700, 500]], 'bittern-photo');
  shop.db.update(jobs).set({ priceMinor: 90_000 }).where(eq(jobs.id, waiting)).run();
  const before = lines();
  const { status, body } = await propose();
  expect(status).toBe(200);
  expect(body.isBetter).toBe(true);
  expect(body.moves.map(({ name, fromPrinterId }) => [name, fromPrinterId])).toContainEqual(['waits.pdf', null]);
  expect(body.units.find(({ name }) => name === 'waits.pdf')).toMatchObject({ valueMinor: 90_000, chanceNow: null });
  expect(body.proposed.pieces - body.standing.pieces).toBe(1);
  expect(body.proposed.worthMinor - body.standing.worthMinor).toBeCloseTo(body.gainMinor, 3);
  // Nothing is moved by asking.
  expect(lines()).toEqual(before);
  expect((await http.call('POST', `/api/away/proposals/${body.id ?? ''}/accept`)).status).toBe(200);
  expect(lines().flat()).toHaveLength(2);
  expect(lines().flat()).toContain(numberOf(standing));
  expect(log().at(-1)).toMatch(/^Proposed night taken: 1 run queued/);
  expect((await http.call('POST', `/api/away/proposals/${body.id ?? ''}/accept`)).status).toBe(409);
  expect((await http.call('POST', `/api/away/proposals/${body.id ?? ''}/undo`)).status).toBe(200);
  expect(lines()).toEqual(before);
  expect(shop.db.select().from(jobs).where(eq(jobs.id, waiting)).get()?.state).toBe('ready');
  expect((await http.call('POST', `/api/away/proposals/${body.id ?? ''}/undo`)).status).toBe(409);
});

test('a draft is worth what its jobs are: their price, or its cost and the shop’s margin', async () => {
  const draft = async (name: string, priceMinor: number | null): Promise<void> => {
    const jobId = admitPlain(shop, name, [[700, 500]], 'bittern-photo');
    shop.db.update(jobs).set({ priceMinor }).where(eq(jobs.id, jobId)).run();
    const runId = createRun(shop, [jobId], TESTER);
    layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  };
  await draft('priced.pdf', 90_000);
  await draft('plain.pdf', null);
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), marginShare: 1.5 }, TESTER);
  const values = async (): Promise<number[]> => (await propose()).body.units.map(({ valueMinor }) => valueMinor);
  const [priced = 0, plain = 0] = (await values()).sort((a, b) => b - a);
  expect(priced).toBeCloseTo(90_000, 6);
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), marginShare: 0 }, TESTER);
  const cost = Math.min(...(await values()));
  expect(cost).toBeGreaterThan(0);
  expect(plain).toBeCloseTo(2.5 * cost, 6);
});

test('a night that counts on what waits no longer is not taken', async () => {
  const waiting = admitPlain(shop, 'waits.pdf', [[700, 500]], 'bittern-photo');
  shop.db.update(jobs).set({ priceMinor: 90_000 }).where(eq(jobs.id, waiting)).run();
  const { body } = await propose();
  // Somebody else has taken it meanwhile.
  createRun(shop, [waiting], TESTER);
  const before = lines();
  const answer = await http.call<{ error: { code: string } }>('POST', `/api/away/proposals/${body.id ?? ''}/accept`);
  expect([answer.status, answer.body.error.code]).toEqual([409, 'floor-changed']);
  expect(JSON.stringify(answer.body)).toContain('waits.pdf is placed');
  expect(lines()).toEqual(before);
});

test('where a part can’t be done, all of it is taken back and the reason told', async () => {
  for (const name of ['a.pdf', 'b.pdf']) {
    const id = admitPlain(
      shop,
      name,
      [[700, name === 'a.pdf' ? 500 : 350]],
      name === 'a.pdf' ? 'bittern-photo' : 'heron-banners',
    );
    shop.db.update(jobs).set({ priceMinor: 90_000 }).where(eq(jobs.id, id)).run();
  }
  const { body } = await propose();
  expect(body.moves).toHaveLength(2);
  let made = 0;
  shop.work.replace('run pdf', () => {
    made += 1;
    return Promise.resolve(made < 2 ? { sha256: 'e'.repeat(64), bytes: 1 } : { refused: 'The picture is damaged.' });
  });
  const answer = await http.call('POST', `/api/away/proposals/${body.id ?? ''}/accept`);
  expect(answer.status).toBeGreaterThanOrEqual(409);
  expect(JSON.stringify(answer.body)).toContain('damaged');
  expect(lines().flat()).toEqual([]);
  expect(
    shop.db
      .select()
      .from(runs)
      .all()
      .filter(({ state }) => state === 'queued' || state === 'draft'),
  ).toEqual([]);
});

test('nothing waits and nothing could be better: the plan is as good as it can be made', async () => {
  const { body } = await propose({ confidence: 0.8 });
  expect(body).toMatchObject({ id: null, isBetter: false, moves: [], gainMinor: 0 });
});
