import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import { Refused } from '../../shop.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from './layOutRun.ts';
import { nestDraft } from './nestDraft.ts';
import { setRunCopies } from './runCopies.ts';
import { queueRun } from '../run/queueRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const counts = (jobId: string): Record<string, number> => {
  const rows = shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
  const by: Record<string, number> = {};
  for (const { state } of rows) by[state] = (by[state] ?? 0) + 1;
  return by;
};
const inRun = (runId: string): number =>
  shop.db.select().from(runPieces).where(eq(runPieces.runId, runId)).all().length;
const copiesOf = (jobId: string): number | undefined =>
  shop.db.select().from(jobs).where(eq(jobs.id, jobId)).get()?.ticket.values.copies;

test('a draft is filled with what is owed first, then with more copies; what is too many waits again', () => {
  const jobId = admitPlain(shop, 'label.pdf', [[80, 40]], 'magpie-labels');
  changeJob(shop, jobId, { copies: 5 }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  setRunCopies(shop, runId, jobId, 3, TESTER);
  expect([inRun(runId), copiesOf(jobId), counts(jobId)]).toEqual([3, 5, { placed: 3, owed: 2 }]);
  setRunCopies(shop, runId, jobId, 4, TESTER);
  expect([inRun(runId), copiesOf(jobId), counts(jobId)]).toEqual([4, 5, { placed: 4, owed: 1 }]);
  setRunCopies(shop, runId, jobId, 12, TESTER);
  expect([inRun(runId), copiesOf(jobId), counts(jobId)]).toEqual([12, 12, { placed: 12 }]);
  setRunCopies(shop, runId, jobId, 12, TESTER);
  expect(inRun(runId)).toBe(12);
});

test('locked pieces are the last to go, and the length follows', async () => {
  const jobId = admitPlain(shop, 'label.pdf', [[800, 400]], 'magpie-labels');
  changeJob(shop, jobId, { copies: 4, quarterTurn: false }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  const { settings, placements } = await nestDraft(shop, runId, 20);
  const last = placements.reduce((a, b) => (b.yMm > a.yMm ? b : a));
  layOutRun(
    shop,
    runId,
    {
      settings,
      placements: placements.map((each) => ({ ...each, locked: each.pieceId === last.pieceId })),
    },
    { by: TESTER },
  );
  setRunCopies(shop, runId, jobId, 1, TESTER);
  const [left] = shop.db.select().from(runPieces).where(eq(runPieces.runId, runId)).all();
  expect(left).toMatchObject({ pieceId: last.pieceId, locked: true, yMm: last.yMm });
});

test('what can not be filled says why, and nothing changes', async () => {
  const booklet = admitPlain(
    shop,
    'booklet.pdf',
    [
      [80, 40],
      [80, 40],
    ],
    'magpie-labels',
  );
  const label = admitPlain(shop, 'label.pdf', [[80, 40]], 'magpie-labels');
  const runId = createRun(shop, [booklet, label], TESTER);
  const codeOf = (act: () => void): string => {
    try {
      act();
    } catch (error) {
      if (error instanceof Refused) return error.code;
      throw error;
    }
    return 'done';
  };
  const other = admitPlain(shop, 'other.pdf', [[80, 40]], 'magpie-labels');
  expect(
    codeOf(() => {
      setRunCopies(shop, runId, booklet, 4, TESTER);
    }),
  ).toBe('many-pieces');
  expect(
    codeOf(() => {
      setRunCopies(shop, runId, other, 4, TESTER);
    }),
  ).toBe('not-in-run');
  expect(
    codeOf(() => {
      setRunCopies(shop, runId, label, 10_001, TESTER);
    }),
  ).toBe('too-many');
  expect(
    codeOf(() => {
      setRunCopies(shop, 'run-x', label, 2, TESTER);
    }),
  ).toBe('no-such-run');
  expect([inRun(runId), copiesOf(label)]).toEqual([3, 1]);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  expect(
    codeOf(() => {
      setRunCopies(shop, runId, label, 2, TESTER);
    }),
  ).toBe('wrong-state');
});
