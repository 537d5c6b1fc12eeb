import { counted } from '../../../core/counted.ts';
import type { TicketKey } from '../../../core/ticket/ticket.ts';
import { TICKET_SETTINGS, RUN_WIDE } from '../../../core/ticket/settings.ts';
import type { RunHow } from '../../ports/work.ts';
import { modeOf } from './runRows.ts';
import { asc, inArray } from 'drizzle-orm';
import type { PlanRun } from '../../../core/schedule/plan.ts';
import { type FloorPlan, planFloor } from '../../../core/schedule/planFloor.ts';
import { plannedWork } from '../../../core/schedule/planInput.ts';
import { readFloor } from '../plan/fit.ts';
import { snapshotFor } from '../plan/plannedFloor.ts';
import type { BatchProposal, BatchesAnswer } from '../../../contract/api/batch.ts';
import { runTime } from '../../../core/estimate/runTime.ts';
import { type Batch, type BatchMedia, type WaitingJob, changeOvers } from '../../../core/layout/arrange/batches.ts';
import { sideMargins, usableWidth } from '../../../core/layout/usableWidth.ts';
import type { Reader } from '../../db/open.ts';
import { outstandingPieceRows } from '../../db/runViews.ts';
import { jobs, queues } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop } from '../../shop.ts';

type JobRow = typeof jobs.$inferSelect;
type PrinterRow = typeof printers.$inferSelect;

/** Nests of a proposal take so long together: it is looked at, not printed; the Bench nests again. */
const NEST_MS = 2500;
const NEST_STEPS = 400;

interface Known {
  readonly printers: ReadonlyMap<string, PrinterRow>;
  readonly queues: ReadonlyMap<string, typeof queues.$inferSelect>;
  readonly stocks: ReadonlyMap<string, typeof stocks.$inferSelect>;
  readonly jobs: ReadonlyMap<string, JobRow>;
}

/**
 * What could run together of everything that waits: nothing is changed by asking.
 * @param leastMm what a batch must save to be proposed; those that save less are counted
 */
export async function batchesProposed(shop: Shop, leastMm = 0, how: RunHow = {}): Promise<BatchesAnswer> {
  const known = knownOf(shop.db);
  const waiting = waitingJobs(shop.db, known);
  const media = mediaOf(known, waiting);
  const batches = await shop.work.run(
    'batches',
    {
      jobs: waiting,
      media,
      stepBudget: NEST_STEPS,
      timeLimitMs: NEST_MS,
    },
    how,
  );
  const owed = owedOf(waiting);
  const plan = planFloor(snapshotFor(readFloor(shop)));
  const saves = ({ aloneMm, lengthMm }: Batch): number => aloneMm - lengthMm;
  const worth = batches.filter((batch) => saves(batch) >= leastMm);
  const small = batches.filter((batch) => saves(batch) < leastMm);
  const ends = endsOf(plan, known, worth);
  const proposals = worth.map((batch) => proposal(known, batch, { plan, ends, owed }));
  const needs = ({ runWide }: WaitingJob): string => `${runWide.stockId ?? ''}|${runWide.modeId ?? ''}`;
  const printerIds = [...new Set(waiting.map((job) => job.printerId))];
  const before = printerIds.map((id) => changeOvers(waiting.filter((job) => job.printerId === id).map(needs)));
  const after = printerIds.map((id) =>
    changeOvers([...new Set(waiting.filter((job) => job.printerId === id).map(needs))]),
  );
  const sum = (values: readonly number[]): number => values.reduce((total, n) => total + n, 0);
  return {
    batches: proposals,
    small: { count: small.length, savedMm: sum(small.map((batch) => Math.max(0, saves(batch)))) },
    waiting: waiting.length,
    changeOversBefore: sum(before),
    changeOversAfter: sum(after),
  };
}

/** Everything that waits, in the groups that would go together: batches where they save media, else each job alone. */
export async function waitingGroups(shop: Shop, how: RunHow = {}): Promise<string[][]> {
  const known = knownOf(shop.db);
  const waiting = waitingJobs(shop.db, known);
  if (waiting.length === 0) return [];
  const order = { jobs: waiting, media: mediaOf(known, waiting), stepBudget: NEST_STEPS, timeLimitMs: NEST_MS };
  const found = await shop.work.run('batches', order, how);
  const together = found.filter(({ aloneMm, lengthMm }) => aloneMm > lengthMm).map(({ jobIds }) => [...jobIds]);
  const taken = new Set(together.flat());
  return [...together, ...waiting.filter(({ jobId }) => !taken.has(jobId)).map(({ jobId }) => [jobId])];
}

/** What some of the waiting jobs come to as one run: a proposal as a person has changed it. */
export async function batchFigures(shop: Shop, jobIds: readonly string[], how: RunHow = {}): Promise<BatchProposal> {
  const known = knownOf(shop.db);
  const wanted = new Set(jobIds);
  const chosen = waitingJobs(shop.db, known).filter(({ jobId }) => wanted.has(jobId));
  const gone = wanted.size - chosen.length;
  if (gone > 0) {
    throw new Refused(
      409,
      'no-longer-waiting',
      `${String(gone)} of ${counted(wanted.size, 'job')} no longer ${gone === 1 ? 'waits' : 'wait'}.`,
      { gone },
      'Look again.',
    );
  }
  const order = {
    jobs: chosen,
    media: mediaOf(known, chosen),
    asOne: true,
    stepBudget: NEST_STEPS,
    timeLimitMs: NEST_MS,
  };
  const [batch] = await shop.work.run('batches', order, how);
  if (!batch) throw new Refused(422, 'not-together', 'These jobs can’t be laid out as one run.');
  const plan = planFloor(snapshotFor(readFloor(shop)));
  return proposal(known, batch, { plan, ends: endsOf(plan, known, [batch]), owed: owedOf(chosen) });
}

function owedOf(waiting: readonly WaitingJob[]): Map<string, number> {
  return new Map(waiting.map((job) => [job.jobId, job.pieces.length]));
}

/** Everything that a proposal looks at, read once. */
function knownOf(db: Reader): Known {
  const byId = <R extends { readonly id: string }>(rows: readonly R[]): Map<string, R> =>
    new Map(rows.map((row) => [row.id, row]));
  const rows = db
    .select()
    .from(jobs)
    .where(inArray(jobs.state, ['checked', 'ready']))
    .orderBy(asc(jobs.seq))
    .all();
  return {
    printers: byId(db.select().from(printers).all()),
    queues: byId(db.select().from(queues).all()),
    stocks: byId(db.select().from(stocks).all()),
    jobs: byId(rows),
  };
}

function waitingJobs(db: Reader, known: Known): WaitingJob[] {
  const owed = outstandingPieceRows(db, [...known.jobs.keys()]);
  return [...known.jobs.values()].flatMap((job): WaitingJob[] => {
    const own = owed.get(job.id) ?? [];
    const queue = known.queues.get(job.queueId);
    if (own.length === 0 || !queue) return [];
    const { values } = job.ticket;
    const runWide = Object.fromEntries(RUN_WIDE.map((key) => [key, JSON.stringify(values[key])]));
    return [{ jobId: job.id, printerId: queue.printerId, runWide, dueMs: values.dueMs, pieces: own }];
  });
}

/** Of each job; plain data, since the nest runs in a thread of its own. */
function mediaOf(known: Known, waiting: readonly WaitingJob[]): Record<string, BatchMedia> {
  return Object.fromEntries(
    waiting.flatMap(({ jobId, printerId }) => {
      const job = known.jobs.get(jobId);
      const printer = known.printers.get(printerId);
      const queue = job && known.queues.get(job.queueId);
      const stock = job && known.stocks.get(job.ticket.values.stockId);
      if (!job || !printer || !queue || !stock) return [];
      const { config } = printer;
      const { leftMm, rightMm } = sideMargins(config, job.ticket.values.edgeToEdge, stock.widthMm);
      const media: BatchMedia = {
        usableWidthMm: usableWidth(config, stock.widthMm, leftMm, rightMm).usableWidthMm,
        registeredEdge: config.registeredEdge,
        rules: { gapMm: queue.gapMm, leadMm: config.leadMm, trailMm: config.trailMm, quarterTurns: true },
        trailerMm: config.machine.trailerMm,
        longestMm: config.longestMm,
      };
      return [[jobId, media] as const];
    }),
  );
}

interface Lines {
  readonly plan: FloorPlan;
  /** When each batch would be done: those of a printer one behind the other, behind its line. */
  readonly ends: ReadonlyMap<Batch, number>;
  readonly owed: ReadonlyMap<string, number>;
}

/** The batches of each printer behind its line, in the order of their proposal. */
function endsOf(plan: FloorPlan, known: Known, batches: readonly Batch[]): Map<Batch, number> {
  const ends = new Map<Batch, number>();
  for (const printerId of new Set(batches.map((batch) => batch.printerId))) {
    const own = batches.filter((batch) => batch.printerId === printerId);
    const runs = own.map((batch, i) => factsOf(known, batch).asRun(batch, String(i)));
    const { events } = plan.behind(printerId, runs);
    for (const event of events) {
      const batch = event.kind === 'run' ? own[Number(event.id)] : undefined;
      if (batch) ends.set(batch, Math.round(event.toMs));
    }
  }
  return ends;
}

type LaidOut = Pick<Batch, 'lengthMm' | 'laid'>;

/** Of a batch, what its printer, stock and mode make of it. */
function factsOf(known: Known, batch: Batch) {
  const rows = batch.jobIds.flatMap((id) => known.jobs.get(id) ?? []);
  const [first] = rows;
  const printer = known.printers.get(batch.printerId);
  if (!first || !printer) throw new Error('a batch of jobs that wait on a printer');
  const { values } = first.ticket;
  const { config } = printer;
  const mode = modeOf(config, values.modeId);
  const stock = known.stocks.get(values.stockId);
  const { span, dryOut, dryMin, cutOff } = values;
  const timeOf = ({ lengthMm, laid }: LaidOut): number => {
    const used = lengthMm - config.machine.trailerMm;
    const timed = {
      lengthMm: used,
      mediaWidthMm: stock?.widthMm ?? 0,
      mode,
      span,
      dryOut,
      dryMin,
      cutOff,
      pieces: laid,
    };
    return runTime(timed, config.machine).totalMs;
  };
  const asRun = (laid: LaidOut, id: string): PlanRun =>
    plannedWork({
      id,
      stockId: values.stockId,
      modeId: mode.id,
      estimateMs: timeOf(laid),
      needMm: laid.lengthMm,
      outMm: laid.lengthMm - config.machine.trailerMm,
      byHand: stock?.form === 'garment',
      unattended: rows.every((row) => row.ticket.values.unattended),
    });
  return { rows, printer, mode, stock, timeOf, asRun };
}

function proposal(known: Known, batch: Batch, { plan, ends, owed }: Lines): BatchProposal {
  const { rows, printer, mode, stock, timeOf, asRun } = factsOf(known, batch);
  const timeMs = timeOf(batch);
  const endMs = ends.get(batch) ?? 0;
  // Only a job that is late in the batch has to be asked what it would be alone.
  const endAlone = (jobId: string): number => {
    const own = batch.alone.find((each) => each.jobId === jobId);
    return own ? Math.round(plan.behind(printer.id, [asRun(own, 'alone')]).freeMs) : 0;
  };
  const lateness = (jobId: string, dueMs: number | null): BatchProposal['jobs'][number]['late'] => {
    if (dueMs === null || dueMs >= endMs) return 'no';
    return dueMs < endAlone(jobId) ? 'anyway' : 'with the batch';
  };
  return {
    printerId: printer.id,
    printerName: printer.name,
    stockName: stock?.name ?? '',
    modeName: mode.name,
    jobs: rows.map(
      ({
        id: jobId,
        sourceName,
        ticket: {
          values: { dueMs },
        },
      }) => ({
        jobId,
        sourceName,
        pieces: owed.get(jobId) ?? 0,
        dueMs,
        late: lateness(jobId, dueMs),
      }),
    ),
    lengthMm: batch.lengthMm,
    aloneMm: batch.aloneMm,
    timeMs,
    endMs,
    nearly: batch.nearly.map(({ jobId, differs }) => ({
      jobId,
      sourceName: known.jobs.get(jobId)?.sourceName ?? '',
      differs: TICKET_SETTINGS[differs as TicketKey].label,
    })),
  };
}
