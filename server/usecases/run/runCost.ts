import { type InkSource, byRealPixels } from '../../db/byRealPixels.ts';
import { and, eq, inArray, sql } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { JobCost, RunCost } from '../../../contract/api/cost.ts';
import { NOTHING_LEARNED, type PlannedInk, inkAsItGoes, timeAsItGoes } from '../../../core/estimate/learnedPrinter.ts';
import { costOfRun, shareOut } from '../../../core/estimate/money.ts';
import { inkMl, printedCoverage } from '../../../core/estimate/ink.ts';
import { runName } from '../../../core/flow/runName.ts';
import { bookedMm, neededMm } from '../../../core/stock/need.ts';
import { feedingOf } from '../../db/feeding.ts';
import type { Reader } from '../../db/open.ts';
import { printerViews } from '../../db/printerViews.ts';
import { inkLedger, runAttempts } from '../../db/tables/records.ts';
import { jobPages, jobs, pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { pieceSize } from '../../db/runViews.ts';
import { jobRow } from '../ticket/changeJobs.ts';
import { modeOf, printerOf, runRow } from './runRows.ts';
import type { RunRow } from './transitionRun.ts';

/** What a run has taken, or will take by its estimate. */
interface Taken {
  readonly inkMl: Readonly<Record<string, number>>;
  readonly fedMm: number;
  readonly timeMs: number;
  readonly known: boolean;
}

/**
 * What a run costs, and what of that each of its jobs bears: media and time by the area of its pieces, ink by what its own pieces
 * take of each channel. The shares bring exactly the total (largest remainder, ties by job). Extra charges are the jobs' own.
 */
export function runCost(db: Reader, runId: string, currency: string): RunCost {
  const run = runRow(db, runId);
  const { config } = printerOf(db, run);
  const stock = db.select().from(stocks).where(eq(stocks.id, run.ticket.stockId)).get();
  if (!stock) throw new Error(`the stock of ${runId} is missing`);
  const taken = run.endedMs === null ? estimated(db, run) : measured(db, run);
  const priceOf = Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro]));
  const cost = costOfRun({
    inkMl: taken.inkMl,
    pricePerMlMicro: priceOf,
    fedMm: taken.fedMm,
    mediaWidthMm: run.mediaWidthMm,
    mediaPerM2Minor: stock.pricePerM2Minor,
    timeMs: taken.timeMs,
    ratePerHourMinor: config.ratePerHourMinor,
    extraMinor: 0,
  });
  const own = jobShares(
    db,
    run,
    config,
    Object.fromEntries(Object.entries(taken.inkMl).map(([id, ml]) => [id, ml * (priceOf[id] ?? 0)])),
  );
  const areaMm2 = own.reduce((sum, job) => sum + job.areaMm2, 0);
  const byAreaMicro = cost.mediaMicro + cost.timeMicro;
  const shares = shareOut(
    cost.totalMinor,
    own.map((job) => ({
      id: job.id,
      weight: byAreaMicro * (areaMm2 > 0 ? job.areaMm2 / areaMm2 : 0) + job.inkMicro,
    })),
  );
  const parts = shareOut(cost.totalMinor, [
    { id: 'ink', weight: cost.inkMicro },
    { id: 'media', weight: cost.mediaMicro },
    { id: 'time', weight: cost.timeMicro },
  ]);
  return {
    currency,
    known: taken.known,
    totalMinor: cost.totalMinor,
    inkMinor: parts.get('ink') ?? 0,
    mediaMinor: parts.get('media') ?? 0,
    timeMinor: parts.get('time') ?? 0,
    jobs: own.map(({ id, name, count }) => ({
      jobId: id,
      sourceName: name,
      pieces: count,
      minor: shares.get(id) ?? 0,
    })),
  };
}

/** What a run is planned to fire. */
export function plannedInk({
  ticket,
  inkMl,
  ...source
}: Pick<RunRow, 'ticket' | 'inkMl' | keyof InkSource>): PlannedInk {
  return { modeId: ticket.modeId, inkMl, inkCounted: byRealPixels(source) };
}

function estimated(db: Reader, run: RunRow): Taken {
  // How the printer's runs go is dear to read: what has ended needs it no more.
  const learned = printerViews(db, run.printerId)[0]?.learned ?? NOTHING_LEARNED;
  return {
    inkMl: inkAsItGoes(plannedInk(run), learned),
    fedMm: neededMm(feedingOf(db)(run)),
    timeMs: timeAsItGoes(run.estimateMs, learned, run.ticket.modeId, run.ticket.stockId),
    known: false,
  };
}

/** As it was booked: ink and media of all attempts; the machine's time without what it stood. */
function measured(db: Reader, run: RunRow): Taken {
  const fed = db
    .select({ mm: sql<number>`coalesce(sum(${runAttempts.fedMm}), 0)` })
    .from(runAttempts)
    .where(eq(runAttempts.runId, run.id))
    .get();
  // A back is printed on what its front has fed.
  const fedMm = run.side?.side === 'back' ? 0 : bookedMm(fed?.mm ?? 0, feedingOf(db)(run));
  const timeMs = run.startedMs === null ? 0 : Math.max(0, (run.endedMs ?? 0) - run.startedMs - run.pausedMs);
  return {
    inkMl: firedMl(db, { printerId: run.printerId, channelIds: Object.keys(run.inkMl), runId: run.id }),
    fedMm,
    timeMs,
    known: true,
  };
}

/** Ink that a run has fired, by channel (ml): in all its attempts, or in one. */
export function firedMl(
  db: Reader,
  of: {
    readonly printerId: string;
    readonly channelIds: readonly string[];
    readonly runId: string;
    readonly attempt?: number;
  },
): Record<string, number> {
  const rows = db
    .select({ channelId: inkLedger.channelId, ml: sql<number>`-sum(${inkLedger.ml})` })
    .from(inkLedger)
    .where(
      and(
        eq(inkLedger.printerId, of.printerId),
        inArray(inkLedger.channelId, [...of.channelIds]),
        eq(inkLedger.runId, of.runId),
        of.attempt === undefined ? undefined : eq(inkLedger.attempt, of.attempt),
      ),
    )
    .groupBy(inkLedger.channelId)
    .all();
  return Object.fromEntries(rows.map(({ channelId, ml }) => [channelId, ml]));
}

/** What a job has in a run: its pieces, their area, and what it bears of the run's ink. */
export interface JobShare {
  readonly id: string;
  readonly name: string;
  readonly count: number;
  readonly areaMm2: number;
  readonly inkMicro: number;
}

/**
 * What the jobs of a run share it by: media and time by the area of their pieces, each channel's ink by what their own pieces take of it.
 * @param inkMicro what the ink of each channel costs (micro-units)
 */
export function jobShares(
  db: Reader,
  run: RunRow,
  config: PrinterConfig,
  inkMicro: Readonly<Record<string, number>>,
): JobShare[] {
  const { dpiX, dpiY, dropPl } = modeOf(config, run.ticket.modeId);
  const byJob = new Map<string, { name: string; count: number; area: number; ink: Record<string, number> }>();
  let area = 0;
  const inkSum: Record<string, number> = {};
  for (const { jobId, sourceName, part, tile, count, pageRow } of piecesOf(db, run.id)) {
    const { widthMm, heightMm } = pieceSize(pageRow, tile);
    const coverage = printedCoverage(pageRow.coverage, part, run.ticket.inkLimit);
    const own = byJob.get(jobId) ?? { name: sourceName, count: 0, area: 0, ink: {} };
    byJob.set(jobId, own);
    const pieceArea = widthMm * heightMm * count;
    own.count += count;
    own.area += pieceArea;
    area += pieceArea;
    for (const { id } of config.channels) {
      const ml = inkMl(coverage[id] ?? 0, pieceArea, dpiX, dpiY, dropPl);
      own.ink[id] = (own.ink[id] ?? 0) + ml;
      inkSum[id] = (inkSum[id] ?? 0) + ml;
    }
  }
  return [...byJob].map(([id, own]) => {
    const areaShare = area > 0 ? own.area / area : 0;
    const ink = Object.entries(inkMicro).reduce((sum, [channel, micro]) => {
      const all = inkSum[channel] ?? 0;
      // What no piece asks for (marks, an exercise strip) is borne by area.
      return sum + micro * (all > 0 ? (own.ink[channel] ?? 0) / all : areaShare);
    }, 0);
    return { id, name: own.name, count: own.count, areaMm2: own.area, inkMicro: ink };
  });
}

/** What a run consists of, pieces that are the same together: a run may hold thousands. */
function piecesOf(db: Reader, runId: string) {
  return db
    .select({
      jobId: pieces.jobId,
      sourceName: jobs.sourceName,
      part: pieces.part,
      tile: pieces.tile,
      count: sql<number>`count(*)`,
      pageRow: jobPages,
    })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .innerJoin(jobPages, and(eq(jobPages.jobId, pieces.jobId), eq(jobPages.page, pieces.page)))
    .where(eq(runPieces.runId, runId))
    .groupBy(jobs.seq, pieces.page, pieces.part, pieces.tile)
    .all();
}

/** So many of a job's runs are added up, the latest first; of the others there is a number. */
const MOST_RUNS = 50;

/** What a job has cost and will cost: its share of each run that it has pieces in, and its own charges. */
export function jobCost(db: Reader, jobId: string, currency: string): JobCost {
  const job = jobRow(db, jobId);
  const seqs = db
    .selectDistinct({ id: runs.id, number: runs.number, state: runs.state })
    .from(pieces)
    .innerJoin(runPieces, eq(runPieces.pieceId, pieces.id))
    .innerJoin(runs, eq(runs.id, runPieces.runId))
    .where(
      and(
        eq(pieces.jobId, jobId),
        inArray(runs.state, ['queued', 'sent', 'printing', 'paused', 'printed', 'failed', 'cancelled']),
      ),
    )
    .orderBy(sql`${runs.seq} desc`)
    .all();
  const own = seqs.slice(0, MOST_RUNS).flatMap(({ id, number, state }) => {
    const { known, jobs: shares } = runCost(db, id, currency);
    const share = shares.find((each) => each.jobId === jobId);
    // A run that was cancelled before it began has cost nothing.
    if (!share || (known && share.minor === 0)) return [];
    return [{ runId: id, runName: runName(number), state, known, pieces: share.pieces, minor: share.minor }];
  });
  const chargesMinor = job.ticket.values.charges.reduce((sum, { minor }) => sum + minor, 0);
  return {
    currency,
    totalMinor: own.reduce((sum, { minor }) => sum + minor, chargesMinor),
    chargesMinor,
    known: own.every(({ known }) => known),
    olderRuns: Math.max(0, seqs.length - MOST_RUNS),
    runs: own,
  };
}
