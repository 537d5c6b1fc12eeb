import { findRun } from '../../db/findRows.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { events, inkLedger } from '../../db/tables/records.ts';
import { jobs, pieces } from '../../db/tables/schema.ts';
import { spoolLeftMm } from '../../db/printerViews.ts';
import { runDetail } from '../../db/runViews.ts';
import { jobDetail, jobItem } from '../../db/views.ts';
import { Refused, transact } from '../../shop.ts';
import { admitPlain, idle, openTestShop, report, type TestShop } from '../../testing/shopFixture.ts';
import { admitJob } from '../arrival/admitJob.ts';
import { changeJob, undoChange } from '../ticket/changeJobs.ts';
import { cancelJob, restoreJob } from '../ticket/closeJob.ts';
import { createRun } from './createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { loadSpool } from '../media/loadSpool.ts';
import { recordPrinterState, recordRunReport } from '../device/machineReports.ts';
import { startAnswer } from '../plan/mayStart.ts';
import { transitionRun } from './transitionRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { queueRun } from './queueRun.ts';
import { cancelQueuedRun, dissolveRun } from './cancelRun.ts';
import { returnToDraft } from './returnToDraft.ts';
import { NO_NATURE } from '../ticket/ticketService.ts';

let shop: TestShop;
let close: () => void;

beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

function refusal(act: () => unknown): Refused {
  try {
    act();
  } catch (error) {
    if (error instanceof Refused) return error;
    throw error;
  }
  throw new Error('nothing was refused');
}

async function draft(...jobIds: string[]): Promise<string> {
  const runId = createRun(shop, jobIds, TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 50), { by: TESTER });
  return runId;
}

/** As the dispatcher sends it. */
function send(runId: string): void {
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
}

const piecesOf = (jobId: string) => shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
const stateOf = (runId: string) => findRun(shop.db, runId)?.state;

test('from arrival to printed: pieces, states, spool, ink and the log agree', async () => {
  const jobId = admitPlain(shop, 'flag.pdf', [
    [700, 500],
    [700, 500],
  ]);
  changeJob(shop, jobId, { copies: 3 }, TESTER);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'ready', pieces: { owed: 6 } });
  const runId = await draft(jobId);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'placed', pieces: { placed: 6 } });
  queueRun(shop, runId, TESTER);
  send(runId);
  const before = spoolLeftMm(shop.db, 'spool-bo-31');
  recordRunReport(shop, report(runId, 1, {}));
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'printing', pieces: { printing: 6 } });
  const length = findRun(shop.db, runId)?.lengthMm ?? 0;
  const end = report(runId, 1, {
    status: 'printed',
    phase: 'done',
    lengthMm: length,
    fedMm: length + 60,
    inkMl: { cyan: 2.5, white: 0 },
    endedMs: 9000,
  });
  recordRunReport(shop, end);
  // The printer says it again after a lost answer: nothing is booked twice.
  recordRunReport(shop, end);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'printed', pieces: { printed: 6 } });
  expect(spoolLeftMm(shop.db, 'spool-bo-31')).toBeCloseTo(before - length - 60, 6);
  expect(shop.db.select().from(inkLedger).where(eq(inkLedger.runId, runId)).all()).toMatchObject([
    { channelId: 'cyan', ml: -2.5 },
  ]);
  const told = shop.db
    .select()
    .from(events)
    .where(eq(events.subjectId, runId))
    .all()
    .map((event) => event.kind);
  expect(told).toEqual(['run.drafted', 'run.queued', 'run.printing', 'run.printed']);
});

test('a run that fails at a length: whole pieces are printed, the others owed again', async () => {
  const jobId = admitPlain(shop, 'banner.pdf', [[1500, 1000]]);
  changeJob(shop, jobId, { copies: 3, quarterTurn: false }, TESTER);
  const runId = await draft(jobId);
  queueRun(shop, runId, TESTER);
  send(runId);
  // Three in a row at 20, 1030 and 2040 mm: two are whole at 2035 mm.
  recordRunReport(shop, report(runId, 1, { status: 'failed', lengthMm: 2035, fedMm: 2100, reason: 'head strike' }));
  expect(stateOf(runId)).toBe('failed');
  expect(
    piecesOf(jobId)
      .map((piece) => piece.state)
      .sort(),
  ).toEqual(['owed', 'printed', 'printed']);
  expect(jobItem(shop.db, jobId)?.state).toBe('ready');
  const again = await draft(jobId);
  expect(runDetail(shop.db, again)?.pieces).toHaveLength(1);
});

test('paused and resumed, and late or foreign reports change nothing', async () => {
  const runId = await draft(admitPlain(shop, 'a.pdf', [[500, 500]]));
  queueRun(shop, runId, TESTER);
  send(runId);
  recordRunReport(shop, report(runId, 7, { status: 'printed' }));
  expect(stateOf(runId)).toBe('sent');
  recordRunReport(shop, report(runId, 1, { status: 'paused', reason: 'media out', lengthMm: 120 }));
  expect(findRun(shop.db, runId)).toMatchObject({
    state: 'paused',
    reason: 'media out',
    reachedMm: 120,
  });
  recordRunReport(shop, report(runId, 1, { lengthMm: 130 }));
  expect(stateOf(runId)).toBe('printing');
  recordRunReport(shop, report(runId, 1, { status: 'cancelled', lengthMm: 200, fedMm: 220 }));
  recordRunReport(shop, report(runId, 1, { status: 'printed', lengthMm: 500 }));
  expect(stateOf(runId)).toBe('cancelled');
});

test('a piece is in one live run only', async () => {
  const jobId = admitPlain(shop, 'a.pdf', [[500, 500]]);
  const first = await draft(jobId);
  expect(refusal(() => createRun(shop, [jobId], TESTER)).code).toBe('nothing-owed');
  dissolveRun(shop, first, TESTER);
  expect(jobItem(shop.db, jobId)?.state).toBe('ready');
  const second = await draft(jobId);
  queueRun(shop, second, TESTER);
  const third = returnToDraft(shop, second, TESTER);
  expect(stateOf(second)).toBe('cancelled');
  expect(runDetail(shop.db, third)).toMatchObject({ state: 'draft', pieces: [{ placed: true }] });
  queueRun(shop, third, TESTER);
  cancelQueuedRun(shop, third, TESTER);
  expect(piecesOf(jobId).map((piece) => piece.state)).toEqual(['owed']);
});

test('what can not be printed is not queued, and the reason has its figures', async () => {
  const a = admitPlain(shop, 'a.pdf', [[800, 500]]);
  const b = admitPlain(shop, 'b.pdf', [[800, 500]]);
  const runId = createRun(shop, [a, b], TESTER);
  expect(
    refusal(() => {
      queueRun(shop, runId, TESTER);
    }),
  ).toMatchObject({ code: 'not-laid-out', status: 409 });
  const good = await nestDraft(shop, runId, 50);
  const at = (xMm: number) => ({
    ...good,
    placements: good.placements.map((p, i) => ({ ...p, xMm: i === 0 ? 0 : xMm, yMm: 20, angleDeg: 0 })),
  });
  layOutRun(shop, runId, at(400), { by: TESTER });
  expect(
    refusal(() => {
      queueRun(shop, runId, TESTER);
    }).figures,
  ).toEqual({ pairs: 1, outside: 0 });
  layOutRun(shop, runId, at(800.5), { by: TESTER });
  expect(
    refusal(() => {
      queueRun(shop, runId, TESTER);
    }).figures,
  ).toEqual({ pairs: 0, outside: 1 });
  expect(stateOf(runId)).toBe('draft');
  const longest = await draft(admitPlain(shop, 'longest.pdf', [[1500, 49_960]]));
  expect(
    refusal(() => {
      queueRun(shop, longest, TESTER);
    }),
  ).toMatchObject({
    code: 'media-short',
    message: expect.stringContaining('takes 50.06\u00a0m, and no spool') as string,
  });
});

test('a run may wait for its media: queued, held back with the figures, and started once the right spool is in', async () => {
  const heron = (): Parameters<typeof startAnswer>[1] => {
    const row = findRun(shop.db, runId);
    if (!row) throw new Error('no run');
    return row;
  };
  recordPrinterState(shop, 'heron', idle('heron'));
  const runId = await draft(admitPlain(shop, 'long.pdf', [[1500, 36_000]]));
  queueRun(shop, runId, TESTER);
  expect(startAnswer(shop, heron())).toMatchObject({
    ok: false,
    trouble: { code: 'short', text: expect.stringContaining('BO-31 has 35.65\u00a0m left') as string, hand: true },
  });
  await loadSpool(shop, 'spool-me-08', { printerId: 'heron', sourceId: 'roll' }, TESTER);
  expect(startAnswer(shop, heron())).toMatchObject({
    ok: false,
    trouble: { code: 'wrong-stock', text: expect.stringContaining('Heron holds Mesh banner 1600') as string },
  });
  const narrow = { printerId: 'heron', sourceId: 'roll', widthMm: 1595 };
  await loadSpool(shop, 'spool-bo-32', narrow, TESTER);
  expect(startAnswer(shop, heron())).toMatchObject({
    ok: false,
    trouble: { code: 'narrow', text: expect.stringContaining('BO-32 is 1,595\u00a0mm wide') as string },
  });
  await loadSpool(shop, 'spool-bo-32', { ...narrow, widthMm: 1600 }, TESTER);
  expect(startAnswer(shop, heron())).toMatchObject({ ok: true, spool: { label: 'BO-32' } });
  await expect(loadSpool(shop, 'spool-bo-32', { ...narrow, widthMm: 1372 }, TESTER)).rejects.toMatchObject({
    code: 'odd-width',
  });
});

test('jobs that do not go together are refused by name', () => {
  const heron = admitPlain(shop, 'a.pdf', [[500, 500]]);
  const magpie = admitPlain(shop, 'b.pdf', [[100, 100]], 'magpie-labels');
  expect(refusal(() => createRun(shop, [heron, magpie], TESTER))).toMatchObject({
    code: 'different-queues',
    message: expect.stringContaining('Heron banners and Magpie labels') as string,
  });
  const fine = admitPlain(shop, 'c.pdf', [[500, 500]]);
  changeJob(shop, fine, { modeId: 'fine' }, TESTER);
  expect(refusal(() => createRun(shop, [heron, fine], TESTER)).message).toContain('differ in print mode');
  const wide = admitPlain(shop, 'wide.pdf', [[2450, 3100]]);
  expect(jobItem(shop.db, wide)?.state).toBe('blocked');
  expect(refusal(() => createRun(shop, [wide], TESTER)).code).toBe('blocked');
  expect(piecesOf(heron).map((piece) => piece.state)).toEqual(['owed']);
});

test('ticket changes: pieces follow the copies, findings are checked anew, undo leads back', async () => {
  const jobId = admitPlain(shop, 'a.pdf', [[2000, 900]]);
  changeJob(shop, jobId, { quarterTurn: false }, TESTER);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'blocked', findings: [{ code: 'too-wide' }] });
  const undo = shop.db.select().from(events).where(eq(events.kind, 'job.changed')).get()?.undo;
  expect(undo).toMatchObject({
    method: 'POST',
    path: expect.stringMatching(/^\/api\/changes\/[\w-]+\/undo$/) as string,
  });
  await undoChange(shop, undo?.path.split('/')[3] ?? '', TESTER);
  expect(jobItem(shop.db, jobId)?.state).toBe('ready');
  // Undone is as if it had never been: the value comes from where it came before.
  expect(jobDetail(shop.db, jobId)?.ticket.origins.quarterTurn).toBe('printer');
  changeJob(shop, jobId, { copies: 4 }, TESTER);
  const runId = await draft(jobId);
  expect(
    refusal(() => {
      changeJob(shop, jobId, { copies: 1 }, TESTER);
    }).code,
  ).toBe('in-a-run');
  expect(
    refusal(() => {
      changeJob(shop, jobId, { queueId: 'magpie-labels' }, TESTER);
    }).code,
  ).toBe('in-a-run');
  dissolveRun(shop, runId, TESTER);
  changeJob(shop, jobId, { copies: 2 }, TESTER);
  expect(piecesOf(jobId)).toHaveLength(2);
  cancelJob(shop, jobId, TESTER);
  expect(refusal(() => createRun(shop, [jobId], TESTER)).code).toBe('wrong-state');
  restoreJob(shop, jobId, TESTER);
  expect(jobItem(shop.db, jobId)?.state).toBe('ready');
});

test('one claim becomes one job, however often it is brought in', () => {
  const arrival = { claimId: 'claim-1', queueId: 'heron-banners', hotFolderId: null, sourceName: 'once.png' };
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const page = { widthMm: 100, heightMm: 50, bleed, coverage: {}, dpi: 254, thinnestMm: null };
  const file = {
    sha256: 'b'.repeat(64),
    bytes: 5,
    facts: { format: 'png' as const, pages: [page], nature: NO_NATURE },
  };
  expect(admitJob(shop, arrival, file)).toEqual(admitJob(shop, arrival, file));
  expect(shop.db.select().from(jobs).all()).toHaveLength(1);
});

test('thousands of pieces: one statement never carries them all, and an order beyond all rolls is refused with its figures', async () => {
  const jobId = admitPlain(
    shop,
    'labels.pdf',
    [
      [20, 20],
      [20, 20],
    ],
    'magpie-labels',
  );
  changeJob(shop, jobId, { copies: 2500 }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  expect(runDetail(shop.db, runId)?.pieces).toHaveLength(5000);
  layOutRun(shop, runId, await nestDraft(shop, runId, 10), { by: TESTER });
  dissolveRun(shop, runId, TESTER);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'ready', pieces: { owed: 5000 } });
  changeJob(shop, jobId, { copies: 3 }, TESTER);
  expect(piecesOf(jobId)).toHaveLength(6);
  expect(
    refusal(() => {
      changeJob(shop, jobId, { copies: 10_000 + 1 }, TESTER);
    }),
  ).toMatchObject({ code: 'too-many', figures: { pieces: 20_002, limit: 20_000 } });
  expect(piecesOf(jobId)).toHaveLength(6);
});
