import { findRun } from '../../db/findRows.ts';
import { desc, eq, sql } from 'drizzle-orm';
import fc from 'fast-check';
import {
  channelFirings,
  pieceOutcomes,
  printerSpells,
  runAttempts,
  spoolLedger,
  spoolSums,
} from '../../db/tables/records.ts';
import { spoolLeftMm } from '../../db/printerViews.ts';
import { pieces, runs } from '../../db/tables/schema.ts';
import { transact } from '../../shop.ts';
import { TESTER } from '../../testing/tester.ts';
import { admitPlain, idle, openTestShop, report, type TestShop } from '../../testing/shopFixture.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { dissolveRun } from '../run/cancelRun.ts';
import { printRest } from '../run/printRest.ts';
import { queueRun } from '../run/queueRun.ts';
import { returnToDraft } from '../run/returnToDraft.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { printAgain, spoilPieces } from '../shelf/shelf.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { recordPrinterState, recordRunReport } from './machineReports.ts';

let shop: TestShop;
let close: () => void;

beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

async function sent(jobId: string): Promise<string> {
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  return runId;
}

const attemptsOf = (runId: string) => shop.db.select().from(runAttempts).where(eq(runAttempts.runId, runId)).all();
const outcomesOf = (jobId: string) =>
  shop.db
    .select({ pieceId: pieceOutcomes.pieceId, outcome: pieceOutcomes.outcome, cause: pieceOutcomes.cause })
    .from(pieceOutcomes)
    .where(eq(pieceOutcomes.jobId, jobId))
    .orderBy(pieceOutcomes.id)
    .all();
const runRow = (runId: string) => findRun(shop.db, runId);

test('a failed attempt: one row with its figures, an outcome for each piece, firings by channel; said twice, kept once', async () => {
  const jobId = admitPlain(shop, 'banner.pdf', [[1500, 1000]]);
  changeJob(shop, jobId, { copies: 3, quarterTurn: false }, TESTER);
  const runId = await sent(jobId);
  expect(attemptsOf(runId)).toMatchObject([
    { attempt: 1, coat: 1, outcome: 'on the printer', sentMs: expect.any(Number) as number, endedMs: null },
  ]);
  recordRunReport(shop, report(runId, 1, { startedMs: 4000, lengthMm: 300, fedMm: 320 }));
  const end = report(runId, 1, {
    status: 'failed',
    lengthMm: 2035,
    fedMm: 2100,
    startedMs: 4000,
    endedMs: 9000,
    reason: 'head strike',
    inkMl: { cyan: 2.5, white: 0 },
  });
  recordRunReport(shop, end);
  recordRunReport(shop, end);
  expect(attemptsOf(runId)).toMatchObject([
    {
      attempt: 1,
      coat: 1,
      inkSet: 'fitted',
      printerId: 'heron',
      stockId: 'block-out',
      outcome: 'failed',
      cause: 'head strike',
      startedMs: 4000,
      endedMs: 9000,
      lengthMm: 2035,
      fedMm: 2100,
      estimateMs: runRow(runId)?.estimateMs,
    },
  ]);
  // Three in a row at 20, 1030 and 2040 mm: two are whole at 2035 mm.
  expect(
    outcomesOf(jobId)
      .map(({ outcome, cause }) => [outcome, cause])
      .sort(),
  ).toEqual([
    ['not printed', 'head strike'],
    ['printed', null],
    ['printed', null],
  ]);
  expect(shop.db.select().from(channelFirings).where(eq(channelFirings.runId, runId)).all()).toMatchObject([
    { channelId: 'cyan', ml: 2.5, purpose: 'run', fromMs: 4000, toMs: 9000, coat: 1, inkSet: 'fitted' },
  ]);
});

test('a spoiled piece has two rows: printed by the run, spoiled later; the piece in its place has none yet', async () => {
  const jobId = admitPlain(shop, 'plate.pdf', [[300, 200]]);
  const runId = await sent(jobId);
  recordRunReport(shop, report(runId, 1, { status: 'printed', lengthMm: 400, fedMm: 460, endedMs: 9000 }));
  const [piece] = shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
  spoilPieces(shop, jobId, [piece?.id ?? ''], TESTER);
  expect(outcomesOf(jobId)).toEqual([
    { pieceId: piece?.id, outcome: 'printed', cause: null },
    { pieceId: piece?.id, outcome: 'spoiled', cause: null },
  ]);
});

test('a printer is in one state at a time, and its spells leave no gap', () => {
  const during = [
    { ...idle('heron'), status: 'waiting' as const, reason: 'media out' },
    { ...idle('heron'), status: 'waiting' as const, reason: 'media out' },
    undefined,
    idle('heron'),
  ];
  for (const state of [idle('heron'), ...during]) {
    recordPrinterState(shop, 'heron', state);
  }
  const spells = shop.db.select().from(printerSpells).where(eq(printerSpells.printerId, 'heron')).all();
  const last = spells.slice(-4);
  expect(last.map(({ state, cause }) => [state, cause])).toEqual([
    ['idle', null],
    ['waiting', 'media out'],
    ['off', 'no answer from the printer'],
    ['idle', null],
  ]);
  for (const [i, spell] of last.entries()) expect(spell.toMs).toBe(last[i + 1]?.fromMs ?? null);
});

test('every run says from which run it was made, and how; nothing that happened on a printer is carried over', async () => {
  const jobId = admitPlain(shop, 'flag.pdf', [[700, 500]]);
  changeJob(shop, jobId, { copies: 2 }, TESTER);
  const first = createRun(shop, [jobId], TESTER);
  expect(runRow(first)).toMatchObject({ madeBy: 'from jobs', fromRunId: null });
  layOutRun(shop, first, await nestDraft(shop, first, 20), { by: TESTER });
  queueRun(shop, first, TESTER);
  const again = returnToDraft(shop, first, TESTER);
  const laid = runRow(first);
  expect(runRow(again)).toMatchObject({
    madeBy: 'taken back',
    fromRunId: first,
    state: 'draft',
    settings: laid?.settings,
    lengthMm: laid?.lengthMm,
    estimateMs: laid?.estimateMs,
    pdfKey: null,
    endedMs: null,
  });
  dissolveRun(shop, again, TESTER);
  const other = await sent(jobId);
  recordRunReport(shop, report(other, 1, { status: 'failed', lengthMm: 10, fedMm: 30, reason: 'jam', endedMs: 9000 }));
  // There is no file that a PDF could be made of; the draft stays for a person all the same.
  await expect(printRest(shop, other, undefined, TESTER)).rejects.toThrow('as PDF');
  const rest = shop.db.select().from(runs).where(eq(runs.madeBy, 'rest')).get();
  expect(rest).toMatchObject({
    madeBy: 'rest',
    fromRunId: other,
    attempt: 0,
    reason: null,
    startedMs: null,
    endedMs: null,
    fedMm: null,
    pausedMs: 0,
    bookedMm: 0,
    reportSeq: 0,
  });
});

test('whatever a seeded week does, each spool’s kept sum is the sum of its ledger, and each attempt that ended is closed', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          how: fc.constantFrom('printed' as const, 'failed' as const, 'cancelled' as const),
          share: fc.double({ min: 0, max: 1, noNaN: true }),
          twice: fc.boolean(),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      async (days) => {
        const world = openTestShop();
        ({ shop } = world);
        try {
          const jobId = admitPlain(shop, 'day.pdf', [[600, 400]]);
          for (const { how, share, twice } of days) {
            if (shop.db.select().from(pieces).where(eq(pieces.state, 'owed')).all().length === 0)
              printAgain(shop, jobId, 2, TESTER);
            const runId = await sent(jobId);
            const lengthMm = (runRow(runId)?.lengthMm ?? 0) * (how === 'printed' ? 1 : share);
            const end = report(runId, 1, {
              status: how,
              lengthMm,
              fedMm: lengthMm + 40,
              endedMs: 9000,
              inkMl: { cyan: share },
            });
            recordRunReport(shop, end);
            if (twice) recordRunReport(shop, end);
            expect(attemptsOf(runId)).toMatchObject([{ outcome: how, endedMs: 9000 }]);
          }
          const sums = shop.db
            .select({ spoolId: spoolLedger.spoolId, mm: sql<number>`sum(${spoolLedger.mm})` })
            .from(spoolLedger)
            .groupBy(spoolLedger.spoolId)
            .orderBy(desc(spoolLedger.spoolId))
            .all();
          for (const { spoolId, mm } of sums) expect(spoolLeftMm(shop.db, spoolId)).toBeCloseTo(mm, 6);
          expect(shop.db.select().from(spoolSums).all()).toHaveLength(sums.length);
        } finally {
          world.close();
        }
      },
    ),
    { numRuns: 6, seed: 11 },
  );
});
