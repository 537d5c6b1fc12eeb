import { PROGRAM } from '../../core/events/actor.ts';
import { TESTER } from './tester.ts';
import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { RUN_STATES_ON_PRINTER } from '../../core/flow/run.ts';
import { spoolViews } from '../db/printerViews.ts';
import { CARE_STATES_ON_PRINTER } from '../../core/flow/care.ts';
import { careItems } from '../db/tables/careTables.ts';
import { putCareBefore } from '../usecases/care/careBefore.ts';
import { cancelWaitingCare, startCare, transitionCare } from '../usecases/care/careItems.ts';
import { recordCareReport } from '../usecases/care/careReports.ts';
import { careOnPrinter, nextCare } from '../usecases/care/nextCare.ts';
import { jobs, pieces, runs } from '../db/tables/schema.ts';
import { printers, spools } from '../db/tables/floorTables.ts';
import { transact } from '../shop.ts';
import { type TestShop, admitPlain, careReport, report } from './shopFixture.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { queuedLine, setLineOrder } from '../usecases/plan/lineOrder.ts';
import { loadSpool, unloadSpool } from '../usecases/media/loadSpool.ts';
import { recordRunReport } from '../usecases/device/machineReports.ts';
import { transitionRun } from '../usecases/run/transitionRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { printRest } from '../usecases/run/printRest.ts';
import { rerouteRun } from '../usecases/run/rerouteRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { cancelQueuedRun, dissolveRun } from '../usecases/run/cancelRun.ts';
import { returnToDraft } from '../usecases/run/returnToDraft.ts';
import { correctSpool } from '../usecases/media/spools.ts';
import { startAnswer } from '../usecases/plan/mayStart.ts';

export const PRINTERS = ['heron', 'bittern', 'gannet'] as const;
const QUEUES = ['heron-banners', 'bittern-photo'] as const;

/** A shop, and what its devices have said. */
export interface World {
  readonly shop: TestShop;
  /** Reports that were taken once; a late one must change nothing. */
  readonly said: ReturnType<typeof report>[];
  readonly careSaid: ReturnType<typeof careReport>[];
  jobs: number;
}
type Named = readonly [name: string, step: (world: World) => Promise<void> | void];

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
/** A step and how often it comes: what fills the printers more often, so that there is something for the rest to happen to. */
const step = (weight: number, arbitrary: fc.Arbitrary<Named>): { weight: number; arbitrary: fc.Arbitrary<Named> } => ({
  weight,
  arbitrary,
});

const steps = [
  step(
    3,
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
  ),
  step(
    6,
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
  ),
  step(
    12,
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
  ),
  step(
    3,
    fc.tuple(share, share).map(([at, done]) => [
      'it goes on',
      (world) => {
        onPrinter(world, at, (run) =>
          report(run.id, run.attempt, { lengthMm: run.lengthMm * done, fedMm: run.lengthMm * done }),
        );
      },
    ]),
  ),
  step(
    2,
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
  ),
  step(
    2,
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
  ),
  step(
    3,
    fc.tuple(share, share, fc.constantFrom('failed', 'cancelled')).map(([at, done, status]) => [
      `it ${status}`,
      (world) => {
        onPrinter(world, at, (run) => {
          const fedMm = Math.max(run.fedMm ?? 0, run.lengthMm * done);
          return report(run.id, run.attempt, { status, reason: 'jam', lengthMm: fedMm * 0.95, fedMm, endedMs: 9 });
        });
      },
    ]),
  ),
  step(
    1,
    share.map((at) => [
      'an old report comes late',
      (world) => {
        const said = pick(world.said, at);
        if (said) recordRunReport(world.shop, said);
      },
    ]),
  ),
  step(
    1,
    fc.tuple(share, fc.constantFrom('back', 'cancel')).map(([at, what]) => [
      `a queued run is taken ${what}`,
      (world) => {
        const run = pick(runsIn(world, 'queued'), at);
        if (!run) return;
        if (what === 'back') returnToDraft(world.shop, run.id, TESTER);
        else cancelQueuedRun(world.shop, run.id, TESTER);
      },
    ]),
  ),
  step(
    1,
    share.map((at) => [
      'a draft is dissolved',
      (world) => {
        const run = pick(runsIn(world, 'draft'), at);
        if (run) dissolveRun(world.shop, run.id, TESTER);
      },
    ]),
  ),
  step(
    2,
    fc.tuple(share, share).map(([at, where]) => [
      'a run goes to another printer',
      async (world) => {
        const run = pick(runsIn(world, 'queued', 'draft'), at);
        if (run) await rerouteRun(world.shop, run.id, pick(PRINTERS, where) ?? 'heron', null, TESTER);
      },
    ]),
  ),
  step(
    3,
    fc.tuple(share, share).map(([at, where]) => [
      'the rest is printed',
      async (world) => {
        const run = pick(runsIn(world, 'failed', 'cancelled'), at);
        if (run) await printRest(world.shop, run.id, pick(PRINTERS, where), TESTER);
      },
    ]),
  ),
  step(
    1,
    fc.tuple(share, share).map(([at, turn]) => [
      'a line is put in another order',
      (world) => {
        const printerId = pick(PRINTERS, at) ?? 'heron';
        const ids = queuedLine(world.shop.db, printerId).map(({ id }) => id);
        const from = Math.floor(turn * ids.length);
        setLineOrder(world.shop, printerId, [...ids.slice(from), ...ids.slice(0, from)], TESTER);
      },
    ]),
  ),
  step(
    5,
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
  ),
  step(
    1,
    share.map((at) => [
      'a spool is taken out',
      async (world) => {
        const spool = pick(world.shop.db.select().from(spools).all(), at);
        if (spool) await unloadSpool(world.shop, spool.id, TESTER);
      },
    ]),
  ),
  step(
    3,
    fc.tuple(share, fc.constantFrom('check', 'stir', 'clean')).map(([at, kind]) => [
      `a ${kind} is wanted`,
      (world) => {
        const printerId = pick(PRINTERS, at) ?? 'heron';
        const channelIds = ['cyan', 'black'];
        startCare(world.shop, printerId, kind === 'clean' ? { kind, strength: 'deep', channelIds } : { kind }, TESTER);
      },
    ]),
  ),
  step(
    4,
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
  ),
  step(
    4,
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
  ),
  step(
    1,
    share.map((at) => [
      'an old word of care comes late',
      (world) => {
        const said = pick(world.careSaid, at);
        if (said) recordCareReport(world.shop, said);
      },
    ]),
  ),
  step(
    1,
    share.map((at) => [
      'care that waits is taken out',
      (world) => {
        const care = pick(careIn(world, 'waiting'), at);
        if (care) cancelWaitingCare(world.shop, care.id, TESTER);
      },
    ]),
  ),
  step(
    1,
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
  ),
];

/** Whether a run or care is being printed from a spool. */
function isFed(world: World, spoolId: string): boolean {
  return [...runsIn(world, ...RUN_STATES_ON_PRINTER), ...careIn(world, ...CARE_STATES_ON_PRINTER)].some(
    (each) => each.spoolId === spoolId,
  );
}

/** Any step of people, devices and chance. */
export function anyStep(): fc.Arbitrary<Named> {
  return fc.oneof(...steps);
}
