import { eq } from 'drizzle-orm';
import { events } from '../db/schema.ts';
import { type TestShop, admitPlain, openTestShop } from '../testing/shopFixture.ts';
import { changeJob } from './changeJobs.ts';
import { createRun } from './createRun.ts';
import { DatesAtRisk } from './datesAtRisk.ts';
import { layOutRun } from './layOutRun.ts';
import { nestDraft } from './nestDraft.ts';
import { queueRun } from './runSteps.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

test('a date that the line can’t keep is said once, and once more when it is kept again', async () => {
  const job = admitPlain(shop, 'late.pdf', [[1000, 3000]]);
  changeJob(shop, job, { dueMs: shop.clock.now() + 60_000 }, 'test');
  const runId = createRun(shop, [job], 'test');
  layOutRun(shop, runId, await nestDraft(shop, runId, 20));
  queueRun(shop, runId, 'test');
  const said = (): string[] =>
    shop.db
      .select()
      .from(events)
      .where(eq(events.subjectId, runId))
      .all()
      .filter(({ kind }) => kind === 'run.at-risk' || kind === 'run.in-time')
      .map(({ text }) => text);
  const watch = new DatesAtRisk(shop);
  watch.look();
  watch.look();
  expect(said()).toEqual([expect.stringMatching(/^Run 1 on Heron will be \d+ min late as the line is now$/)]);
  changeJob(shop, job, { dueMs: shop.clock.now() + 86_400_000 }, 'test');
  watch.look();
  expect(said().at(-1)).toBe('Run 1 on Heron will be in time again');
});
