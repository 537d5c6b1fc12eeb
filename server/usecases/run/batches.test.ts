import { TESTER } from '../../testing/tester.ts';
import { jobs, queues } from '../../db/tables/schema.ts';
import { eq } from 'drizzle-orm';
import { runDetail } from '../../db/runViews.ts';
import { admitPlain, openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { batchFigures, batchesProposed } from './batches.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from './createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { copyQueue } from '../setup/queues.ts';
import { queueRun } from './queueRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

test('what shares printer, stock and mode is proposed; lengths are those that the Bench comes to, late jobs and odd ones are named', async () => {
  const [a, b] = ['a.pdf', 'b.pdf'].map((name) => admitPlain(shop, name, [[700, 500]]));
  const fine = admitPlain(shop, 'fine.pdf', [[700, 500]]);
  const label = admitPlain(shop, 'label.pdf', [[100, 60]], 'magpie-labels');
  if (!a || !b) throw new Error('no jobs');
  changeJob(shop, fine, { modeId: 'fine' }, TESTER);
  changeJob(shop, a, { dueMs: 1 }, TESTER);
  const { batches, waiting } = await batchesProposed(shop);
  expect(waiting).toBe(4);
  expect(batches).toHaveLength(1);
  const [batch] = batches;
  expect(batch).toMatchObject({ printerName: 'Heron', stockName: 'Block-out banner 1600' });
  expect(batch?.jobs.map((job) => [job.jobId, job.pieces])).toEqual([
    [a, 1],
    [b, 1],
  ]);
  expect(batch?.jobs.map((job) => job.late)).toEqual(['anyway', 'no']);
  expect(batch?.nearly).toEqual([{ jobId: fine, sourceName: 'fine.pdf', differs: 'print mode' }]);
  const trailerMm = 60;
  const lengthOf = async (ids: readonly string[]): Promise<number> => {
    const runId = createRun(shop, ids, TESTER);
    layOutRun(shop, runId, await nestDraft(shop, runId, 50), { by: TESTER });
    return (runDetail(shop.db, runId)?.lengthMm ?? 0) + trailerMm;
  };
  expect(batch?.lengthMm).toBeCloseTo(await lengthOf([a, b]), 3);
  expect(batch?.aloneMm).toBeGreaterThan((batch?.lengthMm ?? 0) + 400);
  expect(label).not.toBe('');
  // What is on the Bench waits no more.
  expect((await batchesProposed(shop)).batches).toEqual([]);
});

test('a batch is printed after what is in line, and the changes that it saves are counted in the order of arrival', async () => {
  const ids = ['one.pdf', 'two.pdf', 'three.pdf', 'four.pdf'].map((name) => admitPlain(shop, name, [[700, 500]]));
  for (const id of [ids[1], ids[3]]) if (id !== undefined) changeJob(shop, id, { modeId: 'fine' }, TESTER);
  const before = await batchesProposed(shop);
  expect([before.changeOversBefore, before.changeOversAfter]).toEqual([3, 1]);
  const ahead = createRun(shop, [admitPlain(shop, 'ahead.pdf', [[1500, 4000]])], TESTER);
  layOutRun(shop, ahead, await nestDraft(shop, ahead, 20), { by: TESTER });
  queueRun(shop, ahead, TESTER);
  const { estimateMs } = runDetail(shop.db, ahead) ?? { estimateMs: 0 };
  const [first, second] = (await batchesProposed(shop)).batches;
  expect((first?.endMs ?? 0) - (first?.timeMs ?? 0) - shop.clock.now()).toBeGreaterThan(estimateMs - 5000);
  // Between the two the printer is set to the other mode: two minutes.
  expect(second?.endMs).toBeCloseTo((first?.endMs ?? 0) + 120_000 + (second?.timeMs ?? 0), -4);
});

test('queues that feed one printer share a batch and a run', async () => {
  const copyId = copyQueue(shop, 'heron-banners', 'Rush banners', TESTER);
  const name = shop.db.select().from(queues).where(eq(queues.id, copyId)).get()?.name;
  expect(name).toBe('Rush banners');
  const a = admitPlain(shop, 'a.pdf', [[700, 500]]);
  const b = admitPlain(shop, 'b.pdf', [[700, 500]], copyId);
  expect((await batchesProposed(shop)).batches[0]?.jobs.map((job) => job.jobId)).toEqual([a, b]);
  const run = runDetail(shop.db, createRun(shop, [a, b], TESTER));
  expect(run).toMatchObject({ printerId: 'heron', jobCount: 2 });
  expect(shop.db.select().from(jobs).all()).toHaveLength(2);
});

test('a job that only the batch makes late is told apart from one that is late anyway', async () => {
  const slow = admitPlain(shop, 'slow.pdf', [[1500, 3000]]);
  const tight = admitPlain(shop, 'tight.pdf', [[1500, 400]]);
  const gone = admitPlain(shop, 'gone.pdf', [[1500, 400]]);
  const [alone] = [await batchFigures(shop, [tight])];
  expect(alone.jobs).toMatchObject([{ jobId: tight, late: 'no' }]);
  // There is time for this job by itself, and not for the others that are printed with it.
  changeJob(shop, tight, { dueMs: alone.endMs + 60_000 }, TESTER);
  changeJob(shop, gone, { dueMs: shop.clock.now() - 1000 }, TESTER);
  const [batch] = (await batchesProposed(shop)).batches;
  const late = new Map(batch?.jobs.map((job) => [job.jobId, job.late]));
  expect([slow, tight, gone].map((id) => late.get(id))).toEqual(['no', 'with the batch', 'anyway']);
});

test('with a job left out, the figures are those of the rest', async () => {
  const ids = ['a.pdf', 'b.pdf', 'c.pdf'].map((name) => admitPlain(shop, name, [[700, 500]]));
  const [whole] = (await batchesProposed(shop)).batches;
  const two = await batchFigures(shop, ids.slice(0, 2));
  expect(two.jobs.map(({ jobId }) => jobId)).toEqual(ids.slice(0, 2));
  // Three lie side by side turned, 700 mm along; two upright, 500 mm.
  expect((whole?.lengthMm ?? 0) - two.lengthMm).toBeCloseTo(200, 6);
  expect(two.aloneMm).toBeCloseTo(((whole?.aloneMm ?? 0) * 2) / 3, 6);
  const one = await batchFigures(shop, ids.slice(0, 1));
  expect(one.aloneMm).toBe(one.lengthMm);
  createRun(shop, ids.slice(0, 1), TESTER);
  await expect(batchFigures(shop, ids)).rejects.toThrow('1 of 3 jobs no longer waits.');
});

test('what would save little is counted and proposed only when it is asked for', async () => {
  // Side by side they don't fit: what is saved is margins and a trailer.
  for (const name of ['a.pdf', 'b.pdf']) admitPlain(shop, name, [[1400, 500]]);
  const all = await batchesProposed(shop);
  const [batch] = all.batches;
  const saved = (batch?.aloneMm ?? 0) - (batch?.lengthMm ?? 0);
  expect(all.small).toEqual({ count: 0, savedMm: 0 });
  expect(saved).toBeGreaterThan(0);
  const few = await batchesProposed(shop, saved + 1);
  expect(few.batches).toEqual([]);
  expect(few.small.count).toBe(1);
  expect(few.small.savedMm).toBeCloseTo(saved, 6);
});
