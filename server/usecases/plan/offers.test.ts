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
