import { eventSentence } from '../../../core/events/sentence.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { events } from '../../db/tables/records.ts';
import { settings } from '../../db/tables/schema.ts';
import { transact } from '../../shop.ts';
import { type TestShop, admitPlain, openTestShop, report } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { DatesAtRisk, jobsAtRisk } from './datesAtRisk.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { queueRun } from '../run/queueRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
  // Somebody is always there: what is late must not depend on the hour at which this is run.
  shop.db.delete(settings).where(eq(settings.key, 'shopSetup')).run();
});
afterEach(() => {
  close();
});

test('a date that the line can’t keep is said once, and once more when it is kept again', async () => {
  const job = admitPlain(shop, 'late.pdf', [[1000, 3000]]);
  changeJob(shop, job, { dueMs: shop.clock.now() + 60_000 }, TESTER);
  const runId = createRun(shop, [job], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const said = (): string[] =>
    shop.db
      .select()
      .from(events)
      .where(eq(events.subjectId, runId))
      .all()
      .filter(({ kind }) => kind === 'run.at-risk' || kind === 'run.in-time')
      .map((event) => eventSentence(event));
  const watch = new DatesAtRisk(shop);
  watch.look();
  watch.look();
  expect(said()).toEqual([expect.stringMatching(/^Run 1 on Heron will be \d+ min late as the line is now$/)]);
  changeJob(shop, job, { dueMs: shop.clock.now() + 86_400_000 }, TESTER);
  watch.look();
  expect(said().at(-1)).toBe('Run 1 on Heron will be in time again');
});

test('of the jobs in a run those are at risk whose own dates it misses; what is printed is at risk no more', async () => {
  const soon = admitPlain(shop, 'soon.pdf', [[1000, 1500]]);
  const later = admitPlain(shop, 'later.pdf', [[1000, 1500]]);
  const dueMs = shop.clock.now() + 120_000;
  changeJob(shop, soon, { dueMs }, TESTER);
  changeJob(shop, later, { dueMs: dueMs + 30 * 86_400_000 }, TESTER);
  const runId = createRun(shop, [soon, later], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  expect(jobsAtRisk(shop)).toEqual([]);
  queueRun(shop, runId, TESTER);
  const [risk, ...others] = jobsAtRisk(shop);
  expect(others).toEqual([]);
  expect(risk).toMatchObject({ jobId: soon, runName: 'Run 1', printerName: 'Heron' });
  expect(Math.abs((risk?.endMs ?? 0) - dueMs - (risk?.lateMs ?? 0))).toBeLessThanOrEqual(1);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const nowMs = shop.clock.now();
  recordRunReport(shop, report(runId, 1, { status: 'printing', startedMs: nowMs }));
  recordRunReport(shop, report(runId, 1, { status: 'printed', startedMs: nowMs, endedMs: dueMs + 3_600_000 }));
  expect(jobsAtRisk(shop)).toEqual([]);
  new DatesAtRisk(shop).look();
  expect(
    shop.db
      .select()
      .from(events)
      .all()
      .some(({ kind }) => kind === 'run.at-risk'),
  ).toBe(false);
});
