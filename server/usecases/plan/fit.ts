import { asc, inArray } from 'drizzle-orm';
import type { Reader } from '../../db/open.ts';
import { printerViews, spoolViews } from '../../db/printerViews.ts';
import { outstandingPieceRows, runItems } from '../../db/runViews.ts';
import { jobPages, jobs, queues } from '../../db/tables/schema.ts';
import { stockSettings, stocks } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { attendance } from '../setup/shopSetup.ts';
import { awaySpan } from '../away/armed.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import type { RunHow } from '../../ports/work.ts';
import { withCare } from './caredPrinters.ts';
import type { FitAsk, FitJob, FitWork } from './fitWork.ts';
import type { Floor } from './plannedFloor.ts';

/**
 * The shop as plans and fits are worked out against it: one moment of it, as plain data.
 * @param db what a transaction has changed already is in it
 */
export function readFloor(shop: Shop, db: Reader = shop.db): Floor {
  return {
    printers: withCare(shop, printerViews(db)),
    spools: spoolViews(db),
    runs: runItems(db),
    queues: db.select().from(queues).orderBy(asc(queues.position)).all(),
    stocks: Object.fromEntries(
      db
        .select()
        .from(stocks)
        .all()
        .map((stock) => [stock.id, stock]),
    ),
    runSettings: Object.fromEntries(
      db
        .select()
        .from(stockSettings)
        .all()
        .map(({ printerId, stockId, settings }) => [`${printerId}/${stockId}`, settings]),
    ),
    spans: attendance(shop).spans,
    away: awaySpan(db),
    nowMs: shop.clock.now(),
    currency: shop.currency(),
  };
}

/** What jobs still owe. */
export function fitWork(db: Reader, jobIds: readonly string[]): FitWork {
  const rows = db
    .select()
    .from(jobs)
    .where(inArray(jobs.id, [...jobIds]))
    .orderBy(asc(jobs.seq))
    .all();
  return {
    jobs: rows.map(fitJob),
    pieces: [...outstandingPieceRows(db, jobIds).values()].flat(),
    ...pagesOf(db, jobIds),
  };
}

/** Of a job, what goes to where fits are worked out. */
export function fitJob({ id, queueId, ticket }: FitJob): FitJob {
  return { id, queueId, ticket };
}

/** Fit lists, worked out by a worker: each nests the work on every printer. One task answers many questions. */
export function fitsFor(shop: Shop, floor: Floor, asks: readonly FitAsk[], how?: RunHow): Promise<Fit[][]> {
  if (asks.length === 0) return Promise.resolve([]);
  return shop.work.run('fits', { floor, asks }, how);
}

/** Ink coverage and cuts of the pages of jobs, by job and page. */
export function pagesOf(db: Reader, jobIds: readonly string[]): Pick<FitWork, 'coverage' | 'cuts'> {
  const pages = db
    .select()
    .from(jobPages)
    .where(inArray(jobPages.jobId, [...jobIds]))
    .all();
  const key = ({ jobId, page }: { jobId: string; page: number }): string => `${jobId}/${String(page)}`;
  return {
    coverage: Object.fromEntries(pages.map((page) => [key(page), page.coverage])),
    cuts: Object.fromEntries(pages.map((page) => [key(page), page.finished?.contour?.cut ?? []])),
  };
}
