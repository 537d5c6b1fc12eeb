import { NOTHING_LEARNED } from '../../../core/estimate/learnedPrinter.ts';
import { eq } from 'drizzle-orm';
import { findRun } from '../../db/findRows.ts';
import { printerViews, spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { jobs } from '../../db/tables/schema.ts';
import { printers, spools } from '../../db/tables/floorTables.ts';
import { transact } from '../../shop.ts';
import { type TestShop, admitPlain, idle, openTestShop, report } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { recordPrinterState, recordRunReport } from '../device/machineReports.ts';
import { syncMedia } from '../device/syncMedia.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { startAnswer } from '../plan/mayStart.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { loadSpool } from './loadSpool.ts';
import { correctSpool, cutOffcut, retireSpool } from './spools.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

async function queued(name: string, size: [number, number], queueId = 'bittern-photo'): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [size], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

/** A run on the printer that has fed so much. */
async function printing(fedMm: number): Promise<string> {
  const runId = await queued('long.pdf', [400, 5000]);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  recordRunReport(shop, report(runId, 1, { lengthMm: fedMm, fedMm }));
  return runId;
}

function printed(runId: string, fedMm: number, startedMs = 0, endedMs = 5): void {
  recordRunReport(shop, report(runId, 1, { status: 'printed', lengthMm: fedMm, fedMm, startedMs, endedMs }));
}

const spoolOf = (id: string) => spoolViews(shop.db, { id })[0];

test('a roll is measured while it is printed on: what was fed by then is not taken off once more at the end', async () => {
  const runId = await printing(2000);
  correctSpool(shop, 'spool-sp-44', 6000, 'measured by its radius', TESTER);
  expect(spoolOf('spool-sp-44')?.leftMm).toBeCloseTo(6000, 6);
  printed(runId, 5060);
  // 6,000 were there after 2,000 of 5,060 had been fed.
  expect(spoolLeftMm(shop.db, 'spool-sp-44')).toBeCloseTo(6000 - 3060, 6);
});

test('an offcut is not cut from what the run on the printer still takes', async () => {
  const runId = await printing(2000);
  const roll = spoolOf('spool-sp-44');
  expect(roll?.takenMm).toBeCloseTo((findRun(shop.db, runId)?.lengthMm ?? 0) + 30 - 2000, 6);
  const free = (roll?.leftMm ?? 0) - (roll?.takenMm ?? 0);
  expect(() => cutOffcut(shop, 'spool-sp-44', free + 1, 'SP-44-b', TESTER)).toThrow(/still takes 3\.\d\d\u00a0m/);
  cutOffcut(shop, 'spool-sp-44', free, 'SP-44-b', TESTER);
  printed(runId, findRun(shop.db, runId)?.lengthMm ?? 0);
  expect(spoolLeftMm(shop.db, 'spool-sp-44')).toBeGreaterThanOrEqual(0);
});

test('what the run on the printer still takes is not there for the next: it is held back, and says so', async () => {
  const runId = await printing(2000);
  const next = await queued('next.pdf', [400, 3000]);
  correctSpool(shop, 'spool-sp-44', 4000, 'measured', TESTER);
  recordPrinterState(shop, 'bittern', idle('bittern'));
  const row = findRun(shop.db, next);
  if (!row) throw new Error('the run is missing');
  expect(startAnswer(shop, row)).toMatchObject({
    ok: false,
    trouble: {
      code: 'short',
      text: expect.stringMatching(/has 0\.\d\d\u00a0m left; Run 2 takes 3\.\d\d\u00a0m/) as string,
    },
  });
  printed(runId, 2000);
  expect(startAnswer(shop, row)).toMatchObject({ ok: true });
});

test('a roll that was taken off the rack for good is not loaded, and a correction needs its reason', async () => {
  retireSpool(shop, 'spool-sp-45', true, TESTER);
  const order = { printerId: 'bittern', sourceId: 'roll-1' };
  await expect(loadSpool(shop, 'spool-sp-45', order, TESTER)).rejects.toMatchObject({ code: 'retired' });
  expect(() => {
    correctSpool(shop, 'spool-sp-44', 100, '   ', TESTER);
  }).toThrow(/needs its reason/);
});

test('the width of a loaded roll that a person measures anew reaches the device, once', async () => {
  const media = [{ sourceId: 'roll-1', tag: 'spool-sp-44', widthMm: 914, lengthMm: 9000 }];
  const state = { ...idle('bittern'), media } as never;
  recordPrinterState(shop, 'bittern', state);
  const order = { printerId: 'bittern', sourceId: 'roll-1', widthMm: 910 };
  const told = () => shop.link.loaded.filter(({ tag, widthMm }) => tag === 'spool-sp-44' && widthMm === 910);
  await loadSpool(shop, 'spool-sp-44', order, TESTER);
  expect(told()).toHaveLength(1);
  // A device that goes on measuring otherwise is not told for ever.
  await syncMedia(shop, 'bittern', state);
  expect(told()).toHaveLength(1);
});

test('what a device measures counts more than what its stock says, and one that stands is told nothing', async () => {
  const media = [{ sourceId: 'roll-1', tag: 'spool-sp-44', widthMm: 909, lengthMm: 9000 }];
  const state = { ...idle('bittern'), media } as never;
  const told = () => shop.link.loaded.filter(({ tag }) => tag === 'spool-sp-44');
  await syncMedia(shop, 'bittern', state);
  expect(told()).toEqual([]);
  shop.db.update(spools).set({ widthMm: 912 }).where(eq(spools.id, 'spool-sp-44')).run();
  // Being told of a roll is what lets a printer go on that has run out.
  await syncMedia(shop, 'bittern', { ...(state as object), status: 'waiting', reason: 'media out' } as never);
  expect(told()).toEqual([]);
  await syncMedia(shop, 'bittern', state);
  expect(told().map(({ widthMm }) => widthMm)).toEqual([912]);
});

test('more copies of a job on the Shelf are owed and wait to be laid out', async () => {
  const runId = await queued('card.pdf', [300, 200]);
  const jobId = shop.db.select({ id: jobs.id }).from(jobs).get()?.id ?? '';
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  printed(runId, 300);
  shop.db.update(jobs).set({ state: 'shelved' }).where(eq(jobs.id, jobId)).run();
  changeJob(shop, jobId, { copies: 3 }, TESTER);
  expect(shop.db.select({ state: jobs.state }).from(jobs).get()).toEqual({ state: 'ready' });
  expect(() => createRun(shop, [jobId], TESTER)).not.toThrow();
});

test('time and ink are learned from the runs of a mode; where a person loads each piece, stops belong to it', async () => {
  const config = shop.db.select().from(printers).where(eq(printers.id, 'bittern')).get()?.config;
  if (!config) throw new Error('the printer is missing');
  const ids: string[] = [];
  for (let i = 0; i < 5; i += 1) {
    const runId = await queued(`card ${String(i)}.pdf`, [300, 200]);
    ids.push(runId);
    const run = findRun(shop.db, runId);
    const estimate = Math.round(run?.estimateMs ?? 0);
    transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
    const startedMs = shop.clock.now();
    const inkMl = Object.fromEntries(Object.entries(run?.inkMl ?? {}).map(([id, ml]) => [id, ml * 1.18]));
    recordRunReport(shop, report(runId, 1, { status: 'paused', reason: 'stops for the next piece', startedMs }));
    const done = { status: 'printed', lengthMm: 200, fedMm: 260, inkMl, startedMs } as const;
    recordRunReport(shop, report(runId, 1, { ...done, seq: 2, endedMs: startedMs + 2 * estimate }));
    transact(shop, ({ tx }) => tx.run(`update runs set paused_ms = 1000 where id = '${runId}'`));
  }
  const learned = () => {
    const { modes } = printerViews(shop.db, 'bittern')[0]?.learned ?? NOTHING_LEARNED;
    return Object.values(modes)[0];
  };
  // From a roll a run that stood is no measure of the printer.
  expect(learned()).toBeUndefined();
  const sources = config.sources.map((source) => ({ ...source, kind: 'bed' as const }));
  shop.db
    .update(printers)
    .set({ config: { ...config, sources } })
    .where(eq(printers.id, 'bittern'))
    .run();
  const own = learned();
  expect(own?.time.runs).toBe(5);
  // Twice the estimate each time, and five runs against what four would be worth: of the printer, the mode and the stock.
  const share = (m0: number): number => (4 * m0 + 5 * Math.log(2)) / 9;
  const stock = Object.values(own?.stocks ?? {})[0];
  expect(stock?.m).toBeCloseTo(share(share(share(0))), 3);
  for (const factor of Object.values(own?.ink ?? {}))
    expect(Math.log(factor) / Math.log(1.18)).toBeCloseTo(share(share(0)) / Math.log(2), 6);
  expect(Object.keys(own?.ink ?? {}).length).toBeGreaterThan(0);
});
