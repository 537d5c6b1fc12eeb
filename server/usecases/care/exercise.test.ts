import { eq } from 'drizzle-orm';
import { fullMarks } from '../../../core/layout/marks/markSettings.ts';
import { channelExercise } from '../../db/tables/careTables.ts';
import { findRun } from '../../db/findRows.ts';
import { channelFirings } from '../../db/tables/records.ts';
import { type TestShop, admitPlain, openTestShop, report } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { transact } from '../../shop.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

/** A plan of 300 × 400 mm on the page-wide Gannet, with or without a bar across the media. */
async function printed(name: string, barMm: number, status: 'printed' | 'failed' = 'printed'): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [[300, 400]], 'gannet-plans')], TESTER);
  const run = findRun(shop.db, runId);
  const marks = fullMarks(run?.settings.marks);
  const strip = { ...marks.strip, on: barMm > 0, edge: 'across' as const, widthMm: Math.max(1, barMm) };
  const change = { ...(await nestDraft(shop, runId, 20)), settings: { ...run?.settings, marks: { ...marks, strip } } };
  layOutRun(shop, runId, change as Parameters<typeof layOutRun>[2], { by: TESTER });
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const inkMl = findRun(shop.db, runId)?.inkMl ?? {};
  recordRunReport(
    shop,
    report(runId, 1, { status, lengthMm: 900, fedMm: 960, inkMl, startedMs: 1000, endedMs: 61_000 }),
  );
  return runId;
}

const evenOf = (runId: string) =>
  shop.db
    .select()
    .from(channelFirings)
    .where(eq(channelFirings.runId, runId))
    .all()
    .map(({ channelId, evenMl }) => [channelId, evenMl]);

test('on a page-wide array work alone exercises nothing: the columns beside a piece got nothing', async () => {
  const runId = await printed('plan.pdf', 0);
  expect(evenOf(runId).length).toBeGreaterThan(0);
  for (const [, ml] of evenOf(runId)) expect(ml).toBe(0);
  expect(shop.db.select().from(channelExercise).all()).toEqual([]);
});

test('a bar across the media exercises every channel; of a run that failed nobody can say so', async () => {
  // Plans prints 600 × 600: each of four channels needs 169.33 mm of full bar.
  const short = await printed('short.pdf', 4 * 160);
  expect(shop.db.select().from(channelExercise).all()).toEqual([]);
  const failed = await printed('failed.pdf', 4 * 175, 'failed');
  for (const [, ml] of evenOf(failed)) expect(ml).toBe(0);
  expect(shop.db.select().from(channelExercise).all()).toEqual([]);
  expect(evenOf(short).length).toBe(4);
  const whole = await printed('whole.pdf', 4 * 175);
  expect(evenOf(whole).every(([, ml]) => Number(ml) > 0)).toBe(true);
  const fresh = shop.db.select().from(channelExercise).all();
  expect(fresh.map(({ channelId }) => channelId).sort()).toEqual(['black', 'cyan', 'magenta', 'yellow']);
});
