import { and, asc, eq, gte, inArray } from 'drizzle-orm';
import type { RunOffer } from '../../../contract/api/fit.ts';
import { runName } from '../../../core/flow/runName.ts';
import { outstandingPieceRows } from '../../db/runViews.ts';
import { jobs, pieces, runPieces, runs } from '../../db/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type FitWork, fitsOf, pagesOf, readFloor } from './fit.ts';
import { queuedLine } from './lineOrder.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { fitsOfRun } from '../run/rerouteRun.ts';

/** Failed runs are remembered for so long that their rest is offered. */
const REST_MS = 24 * 3_600_000;

/**
 * What a printer that stands could give to others: the rest of runs that failed on it, then its queued runs in their order,
 * each with the best other printer of its fit list, or with what is in the way everywhere. Each is judged as if it went alone.
 */
export async function offersOf(shop: Shop, printerId: string): Promise<RunOffer[]> {
  const floor = readFloor(shop);
  if (!floor.printers.some(({ id }) => id === printerId))
    throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
  const offers: RunOffer[] = [];
  const offer = (run: RunRow, kind: RunOffer['kind'], fits: ReturnType<typeof fitsOf>): void => {
    const others = fits.filter((fit) => fit.printerId !== printerId);
    const best = run.side ? undefined : others.find((fit) => fit.can);
    const nearest = others.find((fit) => !fit.can);
    offers.push({
      runId: run.id,
      name: runName(run.seq),
      kind,
      to: best
        ? { printerId: best.printerId, printerName: best.printerName, endMs: best.endMs, lateMs: best.lateMs }
        : null,
      why: run.side
        ? 'It has two sides: give its back up first.'
        : nearest?.can === false
          ? nearest.troubles.map(({ text }) => `${text}.`).join(' ')
          : 'There is no other printer.',
    });
  };
  for (const run of failedRuns(shop, printerId)) {
    const work = restOf(shop, run);
    if (work.pieces.length > 0) offer(run, 'rest', fitsOf(floor, work, run.id));
    await new Promise((done) => setImmediate(done));
  }
  for (const run of queuedLine(shop.db, printerId)) {
    offer(run, 'queued', fitsOfRun(shop, run.id, floor));
    // Other requests get their turn between two runs.
    await new Promise((done) => setImmediate(done));
  }
  return offers;
}

function failedRuns(shop: Shop, printerId: string): RunRow[] {
  return shop.db
    .select()
    .from(runs)
    .where(and(eq(runs.printerId, printerId), eq(runs.state, 'failed'), gte(runs.endedMs, shop.clock.now() - REST_MS)))
    .orderBy(asc(runs.endedMs))
    .all();
}

/** What a failed run still owes and no other run has taken. */
function restOf(shop: Shop, run: RunRow): FitWork {
  const { db } = shop;
  const own = db
    .select({ id: pieces.id, jobId: pieces.jobId })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .where(and(eq(runPieces.runId, run.id), eq(pieces.state, 'owed')))
    .all();
  const ids = new Set(own.map(({ id }) => id));
  const jobIds = [...new Set(own.map(({ jobId }) => jobId))];
  const rows = db.select().from(jobs).where(inArray(jobs.id, jobIds)).orderBy(asc(jobs.seq)).all();
  const owed = [...outstandingPieceRows(db, jobIds).values()].flat();
  return { jobs: rows, pieces: owed.filter(({ pieceId }) => ids.has(pieceId)), ...pagesOf(db, jobIds) };
}
