import { eq } from 'drizzle-orm';
import { runs } from '../../../db/tables/schema.ts';
import type { RunRow } from '../../run/transitionRun.ts';
import { type LockStep, openLockStep } from '../../../testing/lockStep.ts';
import { type TestShop, admitPlain, openTestShop } from '../../../testing/shopFixture.ts';
import { TESTER } from '../../../testing/tester.ts';
import { layOutRun } from '../../layout/layOutRun.ts';
import { nestDraft } from '../../layout/nestDraft.ts';
import { createRun } from '../../run/createRun.ts';
import { queueRun } from '../../run/queueRun.ts';
import { FactsProjector } from '../factsProjector.ts';
import { paceRuns } from '../paceRuns.ts';
import { bestChangesView, whatIfView } from './whatIfAnswer.ts';

const MIN = 60_000;
const HOUR = 60 * MIN;

let shop: TestShop;
let close: () => void;
const clock = { nowMs: 0 };
let line: LockStep;

beforeEach(async () => {
  ({ shop, close } = openTestShop());
  clock.nowMs = Date.parse('2027-03-24T08:00:00Z');
  line = await openLockStep(shop, clock);
});
afterEach(() => {
  line.close();
  close();
});

type Settings = Partial<Pick<RunRow['ticket'], 'span' | 'dryOut'>> & { readonly gapMm?: number };

/** Three runs of the same work, printed with these settings by the stand-in; @returns how long they were on the printer (ms) */
async function printed(name: string, { gapMm, ...ticket }: Settings): Promise<{ runIds: string[]; totalMs: number }> {
  const runIds: string[] = [];
  for (const [i, sizes] of [
    [
      [600, 400],
      [600, 400],
      [900, 500],
    ],
    [[400, 2500]],
    [[1200, 700]],
  ].entries()) {
    const jobs = sizes.map((size, n) =>
      admitPlain(shop, `${name}-${String(i)}-${String(n)}.pdf`, [size as [number, number]], 'heron-banners'),
    );
    const runId = createRun(shop, jobs, TESTER);
    const row = shop.db.select().from(runs).where(eq(runs.id, runId)).get();
    if (!row) throw new Error('no run');
    const settings = gapMm === undefined ? row.settings : { ...row.settings, gapMm };
    shop.db
      .update(runs)
      .set({ ticket: { ...row.ticket, ...ticket }, settings })
      .where(eq(runs.id, runId))
      .run();
    layOutRun(shop, runId, await nestDraft(shop, runId, 50), { by: TESTER });
    queueRun(shop, runId, TESTER);
    runIds.push(runId);
  }
  await line.until(clock.nowMs + 6 * HOUR, MIN);
  const rows = shop.db
    .select()
    .from(runs)
    .all()
    .filter(({ id }) => runIds.includes(id));
  expect(rows.map(({ state }) => state)).toEqual(['printed', 'printed', 'printed']);
  const totalMs = rows.reduce((sum, { startedMs, endedMs }) => sum + (endedMs ?? 0) - (startedMs ?? 0), 0);
  return { runIds, totalMs };
}

function projectAll(): void {
  const projector = new FactsProjector(shop);
  while (projector.work(1000, () => performance.now()));
}

test('within three of a hundred of what the stand-ins take when they really print so', async () => {
  const fromMs = clock.nowMs;
  const was = await printed('wide', { span: 'whole bed', dryOut: true });
  projectAll();
  const period = { fromMs, toMs: clock.nowMs };
  const would = await whatIfView(shop, { ...period, change: { span: 'artwork', dryOut: false } });
  expect(would.runs).toBe(3);
  expect(would.was.runMs).toBe(was.totalMs);
  // What it cost is what Pace says of the same runs.
  const behind = paceRuns(shop, period).runs.reduce((sum, { costMinor }) => sum + costMinor, 0);
  expect(Math.abs(would.was.costMinor - behind)).toBeLessThanOrEqual(2);
  const really = await printed('narrow', { span: 'artwork', dryOut: false });
  expect(really.totalMs).toBeLessThan(was.totalMs * 0.8);
  expect(Math.abs(would.would.runMs - really.totalMs) / really.totalMs).toBeLessThan(0.03);
  expect(would.groups).toEqual([expect.objectContaining({ printerId: 'heron', runs: 3 })]);
  const narrowed = await whatIfView(shop, { ...period, stockIds: ['mesh'], change: { span: 'artwork' } });
  expect([narrowed.runs, narrowed.savedMs]).toEqual([0, 0]);
});

test('a wider gap is laid out anew: media and time as the stand-ins need for it', async () => {
  const fromMs = clock.nowMs;
  await printed('close', { gapMm: 5 });
  const would = await whatIfView(shop, { fromMs, toMs: clock.nowMs, change: { gapMm: 80 } });
  const before = clock.nowMs;
  const really = await printed('apart', { gapMm: 80 });
  const rows = shop.db
    .select()
    .from(runs)
    .all()
    .filter(({ id }) => really.runIds.includes(id));
  const fedM2 = rows.reduce((sum, { fedMm, mediaWidthMm }) => sum + (fedMm ?? 0) * mediaWidthMm, 0) / 1e6;
  expect(before).toBeLessThan(clock.nowMs);
  expect(would.would.fedM2).toBeGreaterThan(would.was.fedM2);
  expect(Math.abs(would.would.fedM2 - fedM2) / fedM2).toBeLessThan(0.03);
  expect(Math.abs(would.would.runMs - really.totalMs) / really.totalMs).toBeLessThan(0.03);
});

test('what would have saved most is found, and asking for it says the same', async () => {
  const fromMs = clock.nowMs;
  await printed('wide', { span: 'whole bed', dryOut: true });
  projectAll();
  const period = { fromMs, toMs: clock.nowMs + HOUR };
  const { changes } = await bestChangesView(shop, period);
  expect(changes.map(({ change }) => change)).toContainEqual({ dryOut: false });
  const [best] = changes;
  if (!best) throw new Error('nothing found');
  const asked = await whatIfView(shop, {
    ...period,
    stockIds: [best.stockId],
    printerIds: [best.printerId],
    change: best.change,
  });
  expect(asked.savedMs).toBeCloseTo(best.savedMs, 3);
  expect(asked.was.costMinor - asked.would.costMinor).toBe(best.savedMinor);
});

test('planned runs are asked about as well, and nothing of them is changed', async () => {
  const runId = createRun(shop, [admitPlain(shop, 'later.pdf', [[900, 4000]], 'heron-banners')], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const before = shop.db.select().from(runs).where(eq(runs.id, runId)).get();
  const asked = { fromMs: clock.nowMs, toMs: clock.nowMs + 24 * HOUR, runIds: [runId] };
  const answer = await whatIfView(shop, { ...asked, change: { oneDirectional: true } });
  expect(answer.runs).toBe(1);
  expect(answer.savedMs).toBeLessThan(0);
  // What is planned has its cost from estimates: nothing has to be added up for it.
  expect(answer.pending).toBe(0);
  expect(shop.db.select().from(runs).where(eq(runs.id, runId)).get()).toEqual(before);
});

test('what makes no sense is refused with a way out', async () => {
  const period = { fromMs: 1000, toMs: 500 };
  await expect(whatIfView(shop, { ...period, change: { dryOut: true } })).rejects.toMatchObject({ code: 'no-time' });
  const ask = { fromMs: 0, toMs: clock.nowMs, printerIds: ['heron'], change: { passes: 1 } };
  await expect(whatIfView(shop, ask)).rejects.toMatchObject({
    code: 'passes',
    message: expect.stringContaining('take at least 2') as string,
  });
});
