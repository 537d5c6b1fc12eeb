import { ServedShop } from '../../testing/servedShop.ts';
import { eq } from 'drizzle-orm';
import { feedFactors } from '../../db/tables/headTables.ts';
import { spools } from '../../db/tables/floorTables.ts';
import { type CareShop, logOf, openCareShop } from '../../testing/careFixture.ts';
import { admitPlain, careReport } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { findCare, startCare } from '../care/careItems.ts';
import { recordCareReport } from '../care/careReports.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { feedFactorOf, feedsOf, measureFeed } from './feed.ts';

let shop: CareShop['shop'];
let clock: CareShop['clock'];
let close: () => void;
let served: ServedShop;
beforeEach(() => {
  ({ shop, clock, close } = openCareShop());
  served = new ServedShop(shop);
});
afterEach(() => {
  served.dispatcher.close();
  close();
});

/** The stock of a roll that is loaded on Heron. */
const loaded = (): string => feedsOf(shop.db, 'heron')[0]?.stockId ?? '';

async function printed(more: { readonly measuredMm?: number } = {}): Promise<void> {
  const id = startCare(shop, 'heron', { kind: 'feed', stockId: loaded() }, TESTER);
  shop.link.startedMs = clock.nowMs;
  await served.says('heron');
  await served.says('heron', { status: 'caring' });
  const row = findCare(shop.db, id);
  const end = {
    status: 'done' as const,
    seq: 99,
    startedMs: clock.nowMs,
    endedMs: clock.nowMs + 1000,
    fedMm: row?.fedMm ?? 0,
  };
  recordCareReport(shop, careReport(id, row?.attempt ?? 1, { ...end, inkMl: { ...row?.inkMl }, ...more }));
}

test('two bars are printed 500 mm apart and measured: the advance on that stock is divided by what came out', async () => {
  expect(feedFactorOf(shop.db, 'heron', loaded())).toBe(1);
  expect(() => measureFeed(shop, 'heron', { stockId: loaded(), measuredMm: 501 }, TESTER)).toThrow(
    'No feed check was printed',
  );
  await printed();
  expect(shop.link.cared.at(-1)?.order).toMatchObject({ kind: 'feed', feedMm: 500, sourceId: 'roll' });
  // Lead 20, trail 20 and trailer 60 beside the bars.
  expect(shop.link.cared.at(-1)?.order.fedMm).toBe(600);
  expect(feedsOf(shop.db, 'heron')[0]).toMatchObject({ toMeasure: true, factor: null });
  expect(() => measureFeed(shop, 'heron', { stockId: loaded(), measuredMm: 480 }, TESTER)).toThrow(/490.mm to 510.mm/);
  measureFeed(shop, 'heron', { stockId: loaded(), measuredMm: 501 }, TESTER);
  expect(feedFactorOf(shop.db, 'heron', loaded())).toBe(1.002);
  expect(feedsOf(shop.db, 'heron')[0]).toMatchObject({ toMeasure: false, factor: 1.002, tensionChanged: false });
  expect(logOf(shop)).toContainEqual(expect.stringMatching(/^Heron: feed on .* measured, 501.00 mm of 500 mm$/));
});

test('a run is sent with the advance divided, and says by what', async () => {
  await printed();
  measureFeed(shop, 'heron', { stockId: loaded(), measuredMm: 501 }, TESTER);
  const runId = createRun(shop, [admitPlain(shop, 'banner.pdf', [[400, 300]], 'heron-banners')], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  await served.says('heron');
  const [sent] = shop.link.sent;
  // 768 nozzles at 360 an inch in six passes: 9.0311 mm.
  expect(sent?.run.feedFactor).toBe(1.002);
  expect((sent?.run.advanceMm ?? 0) * 1.002).toBeCloseTo(9.0311, 4);
});

test('once its tension was changed, the feed should be measured anew; a device that measures says so itself', async () => {
  await printed({ measuredMm: 499 });
  expect(feedsOf(shop.db, 'heron')[0]).toMatchObject({ toMeasure: false, factor: 0.998, tensionChanged: false });
  shop.db
    .update(spools)
    .set({ takeUp: { winding: 'printed side in', tension: 'firm' } })
    .where(eq(spools.printerId, 'heron'))
    .run();
  expect(feedsOf(shop.db, 'heron')[0]).toMatchObject({ tensionChanged: true });
  await printed({ measuredMm: 500 });
  expect(feedsOf(shop.db, 'heron')[0]).toMatchObject({ factor: 1, tensionChanged: false });
  expect(shop.db.select().from(feedFactors).all()).toHaveLength(1);
});
