import { dissolveRun } from '../run/cancelRun.ts';
import { PROGRAM } from '../../../core/events/actor.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { runDetail } from '../../db/runViews.ts';
import { events } from '../../db/tables/records.ts';
import { jobs, queues, runs } from '../../db/tables/schema.ts';
import { Refused } from '../../shop.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { changeJobs, undoChange } from '../ticket/changeJobs.ts';
import { createRun, addJobsToRun } from '../run/createRun.ts';
import { autoSubmit } from '../run/autoSubmit.ts';
import { layOutRun } from './layOutRun.ts';
import { nestDraft } from './nestDraft.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const detail = (id: string) => {
  const found = runDetail(shop.db, id);
  if (!found) throw new Error(`no run ${id}`);
  return found;
};
const layoutAt = (id: string, xMm: number) => {
  const { settings, pieces } = detail(id);
  return { settings, placements: pieces.map(({ pieceId }, i) => ({ pieceId, xMm, yMm: 50 + i * 400, angleDeg: 0 })) };
};

test('a layout is kept only over the version that it was made from; what somebody else did stays', () => {
  const id = createRun(shop, [admitPlain(shop, 'a.pdf', [[300, 200]])], TESTER);
  const { version } = detail(id);
  layOutRun(shop, id, layoutAt(id, 10), { by: TESTER, ifVersion: version });
  const late = () => {
    layOutRun(shop, id, layoutAt(id, 99), { by: TESTER, ifVersion: version });
  };
  expect(late).toThrow(Refused);
  expect(late).toThrow('tester has laid out Run 1 anew meanwhile');
  expect(detail(id).pieces[0]?.xMm).toBe(10);
  layOutRun(shop, id, layoutAt(id, 99), { by: TESTER, ifVersion: detail(id).version });
  expect(detail(id)).toMatchObject({ version: version + 2, pieces: [{ xMm: 99 }] });
  // Who says nothing overwrites, as scripts always could.
  layOutRun(shop, id, layoutAt(id, 5), { by: TESTER });
  expect(detail(id).pieces[0]?.xMm).toBe(5);
});

test('more jobs that join a draft make another version of it', () => {
  const id = createRun(shop, [admitPlain(shop, 'a.pdf', [[300, 200]])], TESTER);
  const { version } = detail(id);
  addJobsToRun(shop, id, [admitPlain(shop, 'b.pdf', [[300, 200]])], TESTER);
  expect(() => {
    layOutRun(shop, id, layoutAt(id, 10), { by: TESTER, ifVersion: version });
  }).toThrow('laid out anew');
});

test('a run that goes by itself never overwrites what a person has laid out while it was nested', async () => {
  shop.db.update(queues).set({ goAfterMin: 0 }).run();
  const job = admitPlain(shop, 'mine.pdf', [[300, 200]]);
  shop.work.replace('nest', (order, nest) => {
    const [run] = shop.db.select().from(runs).all();
    // A person lays it out in this very moment.
    layOutRun(shop, run?.id ?? '', layoutAt(run?.id ?? '', 321), { by: TESTER });
    return nest(order);
  });
  const { runIds } = await autoSubmit(shop, [job], 0, PROGRAM);
  const [id = ''] = runIds;
  expect(detail(id)).toMatchObject({ state: 'draft', pieces: [{ xMm: 321 }] });
  expect(shop.db.select().from(events).where(eq(events.kind, 'run.stayed')).all()).toEqual([]);
  expect(await nestDraft(shop, id, 20)).toBeDefined();
});

test('a bulk undo that is refused for some keeps them, names who was taken back, and ends when all are', async () => {
  const ids = ['one', 'two', 'three'].map((name) => admitPlain(shop, `${name}.pdf`, [[300, 200]]));
  await changeJobs(shop, ids, { stockId: 'mesh' }, TESTER);
  const undo = shop.db.select().from(events).where(eq(events.kind, 'jobs.changed')).get()?.undo?.path;
  const change = undo?.split('/')[3] ?? '';
  // Two of them are on the Bench now, where their stock can't change.
  const run = createRun(shop, ids.slice(0, 2), TESTER);
  const answer = await undoChange(shop, change, TESTER);
  expect([answer.changed, answer.refused.map(({ jobId }) => jobId)]).toEqual([1, ids.slice(0, 2)]);
  const said = shop.db.select().from(events).where(eq(events.kind, 'jobs.changed-back')).all().at(-1);
  expect(said).toMatchObject({
    data: { jobs: 1, file: 'three.pdf', refused: 2 },
    subjectType: 'job',
    subjectId: ids[2],
  });
  shop.db.update(runs).set({ state: 'draft' }).where(eq(runs.id, run)).run();
  dissolveRun(shop, run, TESTER);
  expect((await undoChange(shop, change, TESTER)).changed).toBe(2);
  const stocks = shop.db.select({ ticket: jobs.ticket }).from(jobs).all();
  expect(new Set(stocks.map(({ ticket }) => ticket.values.stockId))).toEqual(new Set(['block-out']));
  await expect(undoChange(shop, change, TESTER)).rejects.toThrow('is undone');
});
