import { PROGRAM } from '../../../core/events/actor.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq, inArray } from 'drizzle-orm';
import fc from 'fast-check';
import { jobStateFromPieces } from '../../../core/flow/job.ts';
import { LIVE_RUN_STATES, RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { pieceCounts } from '../../db/views.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { events, inkLedger, spoolLedger } from '../../db/records.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { careItems } from '../../db/careTables.ts';
import { putCareBefore } from '../care/careBefore.ts';
import { createCareRule } from '../care/careRules.ts';
import { cancelWaitingCare, startCare, transitionCare } from '../care/careItems.ts';
import { recordCareReport } from '../care/careReports.ts';
import { careOnPrinter, nextCare } from '../care/nextCare.ts';
import { jobs, pieces, printers, runPieces, runs, spools } from '../../db/schema.ts';
import { Refused, transact } from '../../shop.ts';
import { type TestShop, admitPlain, careReport, idle, openTestShop, report } from '../../testing/shopFixture.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { queuedLine, setLineOrder } from './lineOrder.ts';
import { loadSpool, unloadSpool } from '../media/loadSpool.ts';
import { recordPrinterState, recordRunReport } from '../device/machineReports.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { printRest } from '../run/printRest.ts';
import { rerouteRun } from '../run/rerouteRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { cancelQueuedRun, dissolveRun } from '../run/cancelRun.ts';
import { returnToDraft } from '../run/returnToDraft.ts';
import { correctSpool } from '../media/spools.ts';
import { startAnswer } from './mayStart.ts';

/*
 * People and faults in random order against the whole shop, without HTTP: after every step nothing may be lost, doubled or
 * unaccounted for.
 */

const PRINTERS = ['heron', 'bittern', 'gannet'] as const;
const QUEUES = ['heron-banners', 'bittern-photo'] as const;

/** A check comes before nearly every run. */
const LONG_RUNS = {
  what: { kind: 'check' as const },
  overMm: 600,
  onlyImportant: false,
  printerIds: null,
  paused: false,
};

interface World {
  readonly shop: TestShop;
  /** Reports that were taken once; a late one must change nothing. */
  readonly said: ReturnType<typeof report>[];
  readonly careSaid: ReturnType<typeof careReport>[];
  jobs: number;
}
type Step = (world: World) => Promise<void> | void;

const pick = <T>(list: readonly T[], at: number): T | undefined => list[Math.floor(at * list.length)];
const runsIn = ({ shop }: World, ...states: string[]) =>
  shop.db
    .select()
    .from(runs)
    .all()
    .filter((run) => states.includes(run.state));

async function draft({ shop }: World, jobIds: readonly string[]): Promise<string> {
  const runId = createRun(shop, jobIds, TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  return runId;
}

/** Whether a run or care is on a printer. */
function isTaken(world: World, printerId: string): boolean {
  return (
    careOnPrinter(world.shop.db, printerId) !== undefined ||
    runsIn(world, ...RUN_STATES_ON_PRINTER).some((run) => run.printerId === printerId)
  );
}

const careIn = ({ shop }: World, ...states: string[]) =>
  shop.db
    .select()
    .from(careItems)
    .all()
    .filter(({ state }) => states.includes(state));

function saysOfCare(world: World, at: number, change: Partial<ReturnType<typeof careReport>>): void {
  const care = pick(careIn(world, ...CARE_STATES_ON_PRINTER), at);
  if (!care) return;
  const said = careReport(care.id, care.attempt, {
    seq: care.reportSeq + 1,
    inkMl: care.inkMl,
    fedMm: care.fedMm,
    ...change,
  });
  world.careSaid.push(said);
  recordCareReport(world.shop, said);
}

function onPrinter(world: World, at: number, make: (run: typeof runs.$inferSelect) => ReturnType<typeof report>): void {
  const run = pick(runsIn(world, ...RUN_STATES_ON_PRINTER), at);
  if (!run) return;
  const said = make(run);
  world.said.push(said);
  recordRunReport(world.shop, said);
}

const share = fc.double({ min: 0, max: 0.999, noNaN: true });
const steps: fc.Arbitrary<readonly [name: string, step: Step]>[] = [
  fc.tuple(share, fc.integer({ min: 1, max: 4 }), share).map(([at, pages, size]) => [
    'a job comes in',
    (world) => {
      world.jobs += 1;
      const page = [200 + size * 500, 150 + size * 900] as [number, number];
      admitPlain(
        world.shop,
        `job-${String(world.jobs)}.pdf`,
        new Array<[number, number]>(pages).fill(page),
        pick(QUEUES, at),
      );
    },
  ]),
  share.map((at) => [
    'a run is laid out and queued',
    async (world) => {
      const owing = world.shop.db
        .select({ job: jobs })
        .from(jobs)
        .innerJoin(pieces, eq(pieces.jobId, jobs.id))
        .where(eq(pieces.state, 'owed'))
        .all();
      const job = pick(owing, at)?.job;
      if (job) queueRun(world.shop, await draft(world, [job.id]), TESTER);
    },
  ]),
  share.map((at) => [
    'the first of a line is sent and starts',
    (world) => {
      const printerId = pick(PRINTERS, at) ?? 'heron';
      const { shop } = world;
      if (isTaken(world, printerId)) return;
      const [first] = queuedLine(shop.db, printerId);
      const answer = first && startAnswer(shop, first);
      // What comes before it is in the line then, and is done first.
      if (!first || !answer?.ok || putCareBefore(shop, first)) return;
      const spoolId = answer.spool?.id ?? first.spoolId;
      const attempt = first.attempt + 1;
      transact(shop, (work) => {
        transitionRun(work, first.id, 'send', { attempt, spoolId });
        work.note({
          kind: 'run.sent',
          subject: ['run', first.id],
          actor: PROGRAM,
          data: { run: first.seq, printer: 'x' },
        });
      });
      recordRunReport(shop, report(first.id, attempt, {}));
    },
  ]),
  fc.tuple(share, share).map(([at, done]) => [
    'it goes on',
    (world) => {
      onPrinter(world, at, (run) =>
        report(run.id, run.attempt, { lengthMm: run.lengthMm * done, fedMm: run.lengthMm * done }),
      );
    },
  ]),
  fc.tuple(share, fc.constantFrom('paused', 'printing')).map(([at, status]) => [
    `it is ${status}`,
    (world) => {
      onPrinter(world, at, (run) =>
        report(run.id, run.attempt, {
          status,
          reason: 'cover open',
          lengthMm: run.reachedMm ?? 0,
          fedMm: run.fedMm ?? 0,
        }),
      );
    },
  ]),
  share.map((at) => [
    'it is printed',
    (world) => {
      onPrinter(world, at, (run) =>
        report(run.id, run.attempt, {
          status: 'printed',
          lengthMm: run.lengthMm,
          fedMm: run.lengthMm + 30,
          endedMs: 9,
        }),
      );
    },
  ]),
  fc.tuple(share, share, fc.constantFrom('failed', 'cancelled')).map(([at, done, status]) => [
    `it ${status}`,
    (world) => {
      onPrinter(world, at, (run) => {
        const fedMm = Math.max(run.fedMm ?? 0, run.lengthMm * done);
        return report(run.id, run.attempt, { status, reason: 'jam', lengthMm: fedMm * 0.95, fedMm, endedMs: 9 });
      });
    },
  ]),
  share.map((at) => [
    'an old report comes late',
    (world) => {
      const said = pick(world.said, at);
      if (said) recordRunReport(world.shop, said);
    },
  ]),
  fc.tuple(share, fc.constantFrom('back', 'cancel')).map(([at, what]) => [
    `a queued run is taken ${what}`,
    (world) => {
      const run = pick(runsIn(world, 'queued'), at);
      if (!run) return;
      if (what === 'back') returnToDraft(world.shop, run.id, TESTER);
      else cancelQueuedRun(world.shop, run.id, TESTER);
    },
  ]),
  share.map((at) => [
    'a draft is dissolved',
    (world) => {
      const run = pick(runsIn(world, 'draft'), at);
      if (run) dissolveRun(world.shop, run.id, TESTER);
    },
  ]),
  fc.tuple(share, share).map(([at, where]) => [
    'a run goes to another printer',
    async (world) => {
      const run = pick(runsIn(world, 'queued', 'draft'), at);
      if (run) await rerouteRun(world.shop, run.id, pick(PRINTERS, where) ?? 'heron', null, TESTER);
    },
  ]),
  fc.tuple(share, share).map(([at, where]) => [
    'the rest is printed',
    async (world) => {
      const run = pick(runsIn(world, 'failed', 'cancelled'), at);
      if (run) await printRest(world.shop, run.id, pick(PRINTERS, where), TESTER);
    },
  ]),
  fc.tuple(share, share).map(([at, turn]) => [
    'a line is put in another order',
    (world) => {
      const printerId = pick(PRINTERS, at) ?? 'heron';
      const ids = queuedLine(world.shop.db, printerId).map(({ id }) => id);
      const from = Math.floor(turn * ids.length);
      setLineOrder(world.shop, printerId, [...ids.slice(from), ...ids.slice(0, from)], TESTER);
    },
  ]),
  fc.tuple(share, share).map(([at, where]) => [
    'a spool is loaded',
    async (world) => {
      const { db } = world.shop;
      const first = pick(
        PRINTERS.flatMap((id) => queuedLine(db, id).slice(0, 1)),
        where,
      );
      // Mostly what the next run of a line wants, the fullest of it; now and then anything anywhere.
      const [wanted] = spoolViews(db)
        .filter(({ stockId }) => stockId === first?.ticket.stockId)
        .sort((a, b) => b.leftMm - a.leftMm);
      const sensible = first && wanted && at < 0.8;
      const all = db.select().from(printers).all();
      const spool = sensible ? wanted : pick(db.select().from(spools).all(), at);
      const printer = sensible ? all.find(({ id }) => id === first.printerId) : pick(all, where);
      const source = printer?.config.sources[0];
      if (spool && printer && source)
        await loadSpool(world.shop, spool.id, { printerId: printer.id, sourceId: source.id }, TESTER);
    },
  ]),
  share.map((at) => [
    'a spool is taken out',
    async (world) => {
      const spool = pick(world.shop.db.select().from(spools).all(), at);
      if (spool) await unloadSpool(world.shop, spool.id, TESTER);
    },
  ]),
  fc.tuple(share, fc.constantFrom('check', 'stir', 'clean')).map(([at, kind]) => [
    `a ${kind} is wanted`,
    (world) => {
      const printerId = pick(PRINTERS, at) ?? 'heron';
      const channelIds = ['cyan', 'black'];
      startCare(world.shop, printerId, kind === 'clean' ? { kind, strength: 'deep', channelIds } : { kind }, TESTER);
    },
  ]),
  share.map((at) => [
    'care is sent where a printer is free',
    (world) => {
      const { shop } = world;
      const printer = pick(shop.db.select().from(printers).all(), at);
      if (!printer || isTaken(world, printer.id)) return;
      const next = nextCare(shop, printer);
      if (!next) return;
      const { id, attempt } = next.care;
      transact(shop, (work) =>
        transitionCare(work, id, 'send', { attempt: attempt + 1, reportSeq: 0, spoolId: next.spoolId }),
      );
    },
  ]),
  fc.tuple(share, fc.constantFrom('caring', 'done', 'failed', 'cancelled')).map(([at, status]) => [
    `care is ${status}`,
    (world) => {
      saysOfCare(
        world,
        at,
        status === 'caring' ? {} : { status, endedMs: 9, reason: status === 'done' ? null : 'jam' },
      );
    },
  ]),
  share.map((at) => [
    'an old word of care comes late',
    (world) => {
      const said = pick(world.careSaid, at);
      if (said) recordCareReport(world.shop, said);
    },
  ]),
  share.map((at) => [
    'care that waits is taken out',
    (world) => {
      const care = pick(careIn(world, 'waiting'), at);
      if (care) cancelWaitingCare(world.shop, care.id, TESTER);
    },
  ]),
  fc.tuple(share, share).map(([at, left]) => [
    'a spool is put right',
    (world) => {
      const spool = pick(spoolViews(world.shop.db), at);
      // What a run is being printed from is not measured meanwhile.
      if (spool && !isFed(world, spool.id)) {
        correctSpool(world.shop, spool.id, left * 50_000, 'measured', TESTER);
      }
    },
  ]),
];

/** Whether a run or care is being printed from a spool. */
function isFed(world: World, spoolId: string): boolean {
  return [...runsIn(world, ...RUN_STATES_ON_PRINTER), ...careIn(world, ...CARE_STATES_ON_PRINTER)].some(
    (each) => each.spoolId === spoolId,
  );
}

/** What fills the printers comes more often, so that there is something for the rest to happen to. */
const OFTEN: Readonly<Record<number, number>> = {
  0: 3,
  1: 6,
  2: 12,
  3: 3,
  4: 2,
  5: 2,
  6: 3,
  10: 2,
  13: 5,
  11: 3,
  15: 3,
  16: 4,
  17: 4,
};

function script(): fc.Arbitrary<readonly [name: string, step: Step]> {
  return fc.oneof(...steps.map((arbitrary, i) => ({ arbitrary, weight: OFTEN[i] ?? 1 })));
}

function mustHold({ shop }: World): void {
  const { db } = shop;
  const all = db.select().from(runs).all();
  const stateOf = new Map(all.map((run) => [run.id, run.state]));
  // No piece in two live runs; a placed piece is in the run that it names, and that run is live.
  const live = all.filter((run) => LIVE_RUN_STATES.includes(run.state)).map(({ id }) => id);
  const held = db.select().from(runPieces).where(inArray(runPieces.runId, live)).all();
  expect(new Set(held.map(({ pieceId }) => pieceId)).size).toBe(held.length);
  const byPiece = new Map(held.map(({ pieceId, runId }) => [pieceId, runId]));
  for (const piece of db.select().from(pieces).all()) {
    if (piece.state === 'placed') {
      expect(byPiece.get(piece.id)).toBe(piece.runId);
      expect(LIVE_RUN_STATES).toContain(stateOf.get(piece.runId ?? ''));
    } else expect(byPiece.has(piece.id)).toBe(false);
    if (piece.state === 'printed') expect(['printed', 'failed', 'cancelled']).toContain(stateOf.get(piece.runId ?? ''));
  }
  // Job states follow from their pieces.
  const rows = db.select().from(jobs).all();
  const counts = pieceCounts(
    db,
    rows.map(({ id }) => id),
  );
  for (const job of rows) {
    const own = counts.get(job.id);
    if (own && job.state !== 'blocked') expect([job.id, job.state]).toEqual([job.id, jobStateFromPieces(own)]);
  }
  // One run or one piece of care at most on each printer; no attempt sent twice.
  const care = db.select().from(careItems).all();
  const onPrinters = [
    ...all.filter((run) => RUN_STATES_ON_PRINTER.includes(run.state)),
    ...care.filter(({ state }) => CARE_STATES_ON_PRINTER.includes(state)),
  ].map(({ printerId }) => printerId);
  expect(new Set(onPrinters).size).toBe(onPrinters.length);
  const sent = db.select().from(events).where(eq(events.kind, 'run.sent')).all();
  for (const run of all) expect(sent.filter((event) => event.subjectId === run.id)).toHaveLength(run.attempt);
  // Every metre fed is in the ledger, once, and no spool holds less than nothing.
  for (const run of all.filter(({ endedMs, startedMs }) => endedMs !== null && startedMs !== null)) {
    const booked = db.select().from(spoolLedger).where(eq(spoolLedger.runId, run.id)).all();
    const fed = booked.filter(({ kind }) => kind === 'run').reduce((sum, { mm }) => sum - mm, 0);
    expect(fed).toBeCloseTo(run.fedMm ?? 0, 6);
  }
  // Before every long run that was sent a check was asked for, once.
  const asked = care.filter(({ ruleId }) => ruleId !== null).map(({ runId }) => runId);
  expect(new Set(asked).size).toBe(asked.length);
  for (const run of all) if (run.attempt > 0 && run.lengthMm > LONG_RUNS.overMm) expect(asked).toContain(run.id);
  // Nothing is taken out from under care.
  for (const { state, spoolId } of care) {
    if (!CARE_STATES_ON_PRINTER.includes(state) || spoolId === null) continue;
    expect(db.select().from(spools).where(eq(spools.id, spoolId)).get()?.printerId).not.toBeNull();
  }
  // What care has used is booked once, whatever became of it; what was never begun has used nothing.
  for (const row of care) {
    const ink = db.select().from(inkLedger).where(eq(inkLedger.runId, row.id)).all();
    const media = db.select().from(spoolLedger).where(eq(spoolLedger.runId, row.id)).all();
    const ended = ['done', 'failed', 'cancelled'].includes(row.state) && row.startedMs !== null;
    const used = ended ? Object.values(row.inkMl).reduce((sum, ml) => sum + ml, 0) : 0;
    expect(ink.reduce((sum, { ml }) => sum - ml, 0)).toBeCloseTo(used, 9);
    expect(media.reduce((sum, { mm }) => sum - mm, 0)).toBeCloseTo(ended && row.spoolId !== null ? row.fedMm : 0, 9);
  }
  for (const spool of spoolViews(db)) expect(spool.leftMm).toBeGreaterThanOrEqual(-1e-6);
}

test('people and faults in random order: no piece is lost or doubled, no attempt sent twice, every metre is accounted for', async () => {
  let sent = 0;
  let cared = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(script(), { minLength: 40, maxLength: 90, size: 'max' }), async (played) => {
      const opened = openTestShop();
      const laid = { sha256: 'f'.repeat(64), bytes: 1 };
      const { shop } = opened;
      shop.work.replace('run pdf', () => Promise.resolve(laid));
      shop.work.replace('nest', (order, nest) => nest({ ...order, stepBudget: 2 }));
      const world: World = { shop, said: [], careSaid: [], jobs: 0 };
      const done: string[] = [];
      try {
        createCareRule(shop, LONG_RUNS, TESTER);
        for (const id of PRINTERS) recordPrinterState(shop, id, idle(id));
        for (const [name, step] of played) {
          done.push(name);
          try {
            await step(world);
          } catch (error) {
            // What may not be done now is refused, and changes nothing.
            if (!(error instanceof Refused)) throw error;
          }
          mustHold(world);
        }
      } catch (error) {
        throw new Error(`after: ${done.join(', ')}`, { cause: error });
      } finally {
        sent += shop.db.select().from(events).where(eq(events.kind, 'run.sent')).all().length;
        cared += shop.db.select().from(careItems).where(eq(careItems.state, 'done')).all().length;
        opened.close();
      }
    }),
    // Many more with FLOOR_SCRIPTS=100. A slow machine plays fewer; each is judged in full.
    { numRuns: Number(process.env.FLOOR_SCRIPTS ?? 8), seed: 11, plugins: [fc.interruptAfterTimeLimit(45_000)] },
  );
  // Where nothing is printed nothing can go wrong.
  expect(sent).toBeGreaterThan(0);
  expect(cared).toBeGreaterThan(0);
}, 180_000);
