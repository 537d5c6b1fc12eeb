import { eq } from 'drizzle-orm';
import { TESTER } from '../../testing/tester.ts';
import { type TestShop, admitPlain, openTestShop, report } from '../../testing/shopFixture.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { runDetail } from '../../db/runViews.ts';
import { transact } from '../../shop.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from './createRun.ts';
import { queueRun } from './queueRun.ts';
import { jobCost, runCost } from './runCost.ts';
import { transitionRun } from './transitionRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

async function queuedOf(jobIds: readonly string[]): Promise<string> {
  const runId = createRun(shop, jobIds, TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

test('the shares of three like jobs bring exactly the total of their run, and a job its shares and its charges', async () => {
  const ids = ['a.pdf', 'b.pdf', 'c.pdf'].map((name) => admitPlain(shop, name, [[400, 300]]));
  changeJob(shop, ids[0] ?? '', { charges: [{ text: 'eyelets', minor: 450 }] }, TESTER);
  const runId = await queuedOf(ids);
  const cost = runCost(shop.db, runId, 'EUR');
  expect(cost.known).toBe(false);
  const shares = cost.jobs.map(({ minor }) => minor);
  expect(shares.reduce((sum, minor) => sum + minor, 0)).toBe(cost.totalMinor);
  expect(cost.inkMinor + cost.mediaMinor + cost.timeMinor).toBe(cost.totalMinor);
  expect(Math.max(...shares) - Math.min(...shares)).toBeLessThanOrEqual(1);
  const [first] = ids.map((id) => jobCost(shop.db, id, 'EUR'));
  expect(first).toMatchObject({ chargesMinor: 450, totalMinor: (shares[0] ?? 0) + 450, runs: [{ runId, pieces: 1 }] });
});

test('media and time by area, as it was booked: 3,000 mm of 1,600 at 4.20 a m² and half an hour at 38.00', async () => {
  const large = admitPlain(shop, 'large.pdf', [[600, 400]]);
  const small = admitPlain(shop, 'small.pdf', [[300, 200]]);
  const runId = await queuedOf([large, small]);
  const { stockId, printerId } = runDetail(shop.db, runId) ?? { stockId: '', printerId: '' };
  shop.db.update(stocks).set({ pricePerM2Minor: 420 }).where(eq(stocks.id, stockId)).run();
  const config = shop.db.select().from(printers).where(eq(printers.id, printerId)).get()?.config;
  if (!config) throw new Error('the printer is missing');
  shop.db
    .update(printers)
    .set({ config: { ...config, ratePerHourMinor: 3800 } })
    .where(eq(printers.id, printerId))
    .run();
  shop.db.update(runs).set({ mediaWidthMm: 1600 }).where(eq(runs.id, runId)).run();
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const startedMs = shop.clock.now();
  recordRunReport(shop, report(runId, 1, { status: 'printing', startedMs }));
  const endedMs = startedMs + 1_800_000;
  recordRunReport(
    shop,
    report(runId, 1, { status: 'printed', lengthMm: 2940, fedMm: 3000, inkMl: {}, startedMs, endedMs }),
  );
  const cost = runCost(shop.db, runId, 'EUR');
  // 4.8 m² × 4.20 = 20.16; 0.5 h × 38.00 = 19.00; four fifths of the area are the large one's.
  expect(cost).toMatchObject({ known: true, mediaMinor: 2016, timeMinor: 1900, inkMinor: 0, totalMinor: 3916 });
  expect(cost.jobs.map(({ sourceName, minor }) => [sourceName, minor])).toEqual([
    ['large.pdf', 3133],
    ['small.pdf', 783],
  ]);
});
