import { TESTER } from '../../testing/tester.ts';
import { transact } from '../../shop.ts';
import { type TestShop, admitPlain, openTestShop, report, switchOn } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { offersOf } from './offers.ts';
import { queueRun } from '../run/queueRun.ts';
import { findRun } from '../../db/findRows.ts';
import { runsByNumber } from '../../db/runViews.ts';
import { rerouteRun } from '../run/rerouteRun.ts';
import { returnToDraft } from '../run/returnToDraft.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
  switchOn(shop);
});
afterEach(() => {
  close();
});

async function queued(jobId: string): Promise<string> {
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

function fail(runId: string, lengthMm: number): void {
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const startedMs = shop.clock.now();
  recordRunReport(shop, report(runId, 1, { status: 'printing', startedMs }));
  const endedMs = startedMs + 1000;
  recordRunReport(
    shop,
    report(runId, 1, { status: 'failed', reason: 'jam', lengthMm, fedMm: lengthMm, startedMs, endedMs }),
  );
}

test('rests of failed runs first, then the line, each with the best other printer, or with what is in the way', async () => {
  const poster = admitPlain(shop, 'poster.pdf', [[800, 500]], 'bittern-photo');
  changeJob(shop, poster, { copies: 4 }, TESTER);
  const card = admitPlain(shop, 'card.pdf', [[300, 200]], 'bittern-photo');
  const rag = admitPlain(shop, 'rag.pdf', [[500, 700]], 'bittern-photo');
  changeJob(shop, rag, { stockId: 'cotton-rag' }, TESTER);
  const broken = await queued(poster);
  await queued(card);
  await queued(rag);
  fail(broken, 1100);
  const offers = await offersOf(shop, 'bittern');
  expect(offers.map(({ name, kind, to }) => [name, kind, to?.printerName ?? null])).toEqual([
    ['Run 1', 'rest', 'Gannet'],
    ['Run 2', 'queued', 'Gannet'],
    ['Run 3', 'queued', null],
  ]);
  expect(offers[2]?.why).toMatch(/Cotton rag 610 is not for/);
  // Only what is still owed is offered: two of the four came out whole; once they are in another run, nothing.
  const [rest] = offers;
  expect(rest?.to?.endMs).toBeGreaterThan(shop.clock.now());
  createRun(shop, [poster], TESTER);
  expect((await offersOf(shop, 'bittern')).map(({ name }) => name)).toEqual(['Run 2', 'Run 3']);
});

test('a run that failed long ago, or printed, leaves nothing to offer', async () => {
  const runId = await queued(admitPlain(shop, 'card.pdf', [[300, 200]], 'bittern-photo'));
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  recordRunReport(shop, report(runId, 1, { status: 'printing' }));
  recordRunReport(shop, report(runId, 1, { status: 'failed', reason: 'jam', endedMs: shop.clock.now() - 90_000_000 }));
  expect(await offersOf(shop, 'bittern')).toEqual([]);
  await expect(offersOf(shop, 'nobody')).rejects.toThrow('There is no printer nobody.');
});

test('a run that is moved, or taken back, keeps the number that people call it by; what is made of its rest is a run of its own', async () => {
  const jobId = admitPlain(shop, 'wall.pdf', [[600, 400]], 'bittern-photo');
  const id = createRun(shop, [jobId], TESTER);
  const number = runsByNumber(shop.db, 1)[0]?.number;
  expect(number).toBe(1);
  const moved = await rerouteRun(shop, id, 'gannet', null, TESTER);
  expect(runsByNumber(shop.db, 1).map((run) => [run.id, run.printerId, run.state])).toEqual([
    [moved, 'gannet', 'draft'],
    [id, 'bittern', 'cancelled'],
  ]);
  queueRun(shop, moved, TESTER);
  const draft = returnToDraft(shop, moved, TESTER);
  expect(runsByNumber(shop.db, 1)[0]).toMatchObject({ id: draft, name: 'Run 1', state: 'draft' });
  queueRun(shop, draft, TESTER);
  fail(draft, 10);
  expect(findRun(shop.db, createRun(shop, [jobId], TESTER))?.number).toBe(4);
  expect(runsByNumber(shop.db, 1)).toHaveLength(3);
});
