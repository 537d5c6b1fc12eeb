import { eq } from 'drizzle-orm';
import { runs } from '../../../db/tables/schema.ts';
import { runName } from '../../../../core/flow/runName.ts';
import type { RunRow } from '../../run/transitionRun.ts';
import { type LockStep, openLockStep } from '../../../testing/lockStep.ts';
import { type TestShop, admitPlain, openTestShop } from '../../../testing/shopFixture.ts';
import { TESTER } from '../../../testing/tester.ts';
import { layOutRun } from '../../layout/layOutRun.ts';
import { nestDraft } from '../../layout/nestDraft.ts';
import { createRun } from '../../run/createRun.ts';
import { queueRun } from '../../run/queueRun.ts';
import { rerouteRun } from '../../run/rerouteRun.ts';
import { changeJobs } from '../../ticket/changeJobs.ts';
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

/** Posters of a satin that two printers take, printed one by one on the first; @returns the runs */
async function posters(name: string, sizes: readonly (readonly [number, number])[], dueMs?: number): Promise<string[]> {
  const made: string[] = [];
  for (const [i, size] of sizes.entries()) {
    const jobId = admitPlain(shop, `${name}-${String(i)}.pdf`, [size], 'bittern-photo');
    await changeJobs(shop, [jobId], { modeId: 'scroll', ...(dueMs === undefined ? {} : { dueMs }) }, TESTER);
    const runId = createRun(shop, [jobId], TESTER);
    layOutRun(shop, runId, await nestDraft(shop, runId, 50), { by: TESTER });
    made.push(runId);
  }
  return made;
}

const SIZES = [
  [600, 800],
  [420, 594],
  [800, 1400],
] as const;

async function printAll(): Promise<void> {
  await line.until(clock.nowMs + 12 * HOUR, MIN);
}

function rowsOf(ids: readonly string[]): RunRow[] {
  return shop.db
    .select()
    .from(runs)
    .all()
    .filter(({ id }) => ids.includes(id));
}

function lastedMs(rows: readonly RunRow[]): number {
  return rows.reduce((sum, { startedMs, endedMs }) => sum + (endedMs ?? 0) - (startedMs ?? 0), 0);
}

test('runs of one printer, had another printed them: as the stand-in of that one takes for them', async () => {
  const fromMs = clock.nowMs;
  const here = await posters('here', SIZES);
  for (const runId of here) queueRun(shop, runId, TESTER);
  await printAll();
  projectAll();
  const period = { fromMs, toMs: clock.nowMs };
  const asked = await whatIfView(shop, { ...period, stockIds: ['satin-914'], change: { toPrinterId: 'gannet' } });
  expect([asked.runs, asked.changed, asked.nowhere]).toEqual([3, 3, []]);
  expect(asked.most.map(({ toName }) => toName)).toEqual(['Gannet', 'Gannet', 'Gannet']);
  expect(await whatIfView(shop, { ...period, change: { withoutPrinterId: 'bittern' } })).toMatchObject({
    ...{ was: asked.was, would: asked.would, savedMs: asked.savedMs, nowhere: [] },
  });
  const rule = { id: 'satin', name: 'Satin', printerIds: ['gannet'], on: true };
  const is = { about: 'stock', is: 'contains', text: 'satin' } as const;
  const ruled = await whatIfView(shop, { ...period, change: { rules: [{ ...rule, when: [is] }] } });
  expect(ruled).toMatchObject({ changed: 3, savedMs: asked.savedMs });
  const unmet = await whatIfView(shop, {
    ...period,
    change: { rules: [{ ...rule, when: [{ ...is, text: 'mesh' }] }] },
  });
  expect(unmet).toMatchObject({ changed: 0, savedMs: 0 });

  const there = await posters('there', SIZES);
  const moved: string[] = [];
  for (const runId of there) {
    queueRun(shop, runId, TESTER);
    moved.push(await rerouteRun(shop, runId, 'gannet', null, TESTER));
  }
  await printAll();
  const rows = rowsOf(moved);
  expect(rows.map(({ printerId, state }) => [printerId, state])).toEqual(SIZES.map(() => ['gannet', 'printed']));
  expect(Math.abs(asked.would.runMs - lastedMs(rows)) / lastedMs(rows)).toBeLessThan(0.03);
  const fedM2 = rows.reduce((sum, { fedMm, mediaWidthMm }) => sum + (fedMm ?? 0) * mediaWidthMm, 0) / 1e6;
  expect(Math.abs(asked.would.fedM2 - fedM2) / fedM2).toBeLessThan(0.03);
});

test('what no other printer takes is named, and counts on neither side', async () => {
  const jobId = admitPlain(shop, 'rag.pdf', [[500, 400]], 'bittern-photo');
  await changeJobs(shop, [jobId], { stockId: 'cotton-rag' }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const period = { fromMs: clock.nowMs, toMs: clock.nowMs + 24 * HOUR };
  const asked = await whatIfView(shop, { ...period, change: { withoutPrinterId: 'bittern' } });
  expect(asked.nowhere).toEqual([runName(rowsOf([runId])[0]?.number ?? 0)]);
  expect([asked.was.runMs, asked.would.runMs]).toEqual([0, 0]);
  // Where runs may stay, this one does.
  const stays = await whatIfView(shop, { ...period, change: { toPrinterId: 'gannet' } });
  expect(stays).toMatchObject({ runs: 1, changed: 0, nowhere: [], savedMs: 0 });
});

test('runs collected: as the stand-in takes for all of their jobs as one', async () => {
  const fromMs = clock.nowMs;
  const alone = await posters('alone', SIZES);
  for (const runId of alone) queueRun(shop, runId, TESTER);
  await printAll();
  projectAll();
  const asked = await whatIfView(shop, { fromMs, toMs: clock.nowMs, change: { collectH: 24 } });
  expect(asked.changed).toBe(3);
  const [last] = rowsOf(alone).sort((a, b) => b.number - a.number);
  expect(asked.most.map(({ name }) => name)).toEqual([`${runName(last?.number ?? 0)} and 2 more`]);
  const jobIds = SIZES.map((size, i) => admitPlain(shop, `one-${String(i)}.pdf`, [size], 'bittern-photo'));
  await changeJobs(shop, jobIds, { modeId: 'scroll' }, TESTER);
  const runId = createRun(shop, jobIds, TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 50), { by: TESTER });
  queueRun(shop, runId, TESTER);
  await printAll();
  const rows = rowsOf([runId]);
  expect(rows.map(({ state }) => state)).toEqual(['printed']);
  expect(Math.abs(asked.would.runMs - lastedMs(rows)) / lastedMs(rows)).toBeLessThan(0.03);
  const fedM2 = rows.reduce((sum, { fedMm, mediaWidthMm }) => sum + (fedMm ?? 0) * mediaWidthMm, 0) / 1e6;
  expect(Math.abs(asked.would.fedM2 - fedM2) / fedM2).toBeLessThan(0.03);
  // Nothing can be collected in a quarter of an hour that took longer.
  const short = await whatIfView(shop, { fromMs, toMs: clock.nowMs, runIds: alone, change: { collectH: 0.25 } });
  expect(short.would.runMs).toBeGreaterThanOrEqual(asked.would.runMs);
});

test('one more printer takes no other time: what waited for the first goes on at once', async () => {
  for (const runId of await posters('two', SIZES, clock.nowMs + MIN)) queueRun(shop, runId, TESTER);
  const fromMs = clock.nowMs;
  await printAll();
  const asked = await whatIfView(shop, { fromMs, toMs: clock.nowMs, change: { likePrinterId: 'bittern' } });
  expect([asked.savedMs, asked.was.fedM2 - asked.would.fedM2]).toEqual([0, 0]);
  expect(asked.would.lateMs).toBeLessThan(asked.was.lateMs);
  expect(asked.most.some(({ toName }) => toName === 'one more')).toBe(true);
  const [bittern, more] = asked.lines;
  expect([bittern?.name, more?.name]).toEqual(['Bittern', 'one more']);
  expect((bittern?.wouldMs ?? 0) + (more?.wouldMs ?? 0)).toBeCloseTo(bittern?.wasMs ?? 0, 3);
  expect(more?.wouldRuns).toBeGreaterThan(0);
});

test('what makes no sense is refused with a way out', async () => {
  const period = { fromMs: 1000, toMs: 500 };
  await expect(whatIfView(shop, { ...period, change: { dryOut: true } })).rejects.toMatchObject({ code: 'no-time' });
  const ask = { fromMs: 0, toMs: clock.nowMs, printerIds: ['heron'], change: { passes: 1 } };
  await expect(whatIfView(shop, ask)).rejects.toMatchObject({
    code: 'passes',
    message: expect.stringContaining('take at least 2') as string,
  });
  for (const change of [{ toPrinterId: 'owl' }, { withoutPrinterId: 'owl' }, { likePrinterId: 'owl' }]) {
    await expect(whatIfView(shop, { fromMs: 0, toMs: clock.nowMs, change })).rejects.toMatchObject({
      code: 'no-such-printer',
    });
  }
  const both = { collectH: 2, toPrinterId: 'gannet' };
  await expect(whatIfView(shop, { fromMs: 0, toMs: clock.nowMs, change: both })).rejects.toMatchObject({
    code: 'one-at-a-time',
  });
});
