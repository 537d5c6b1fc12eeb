import type { RunHow } from '../../ports/work.ts';
import { fitJob, fitsFor, pagesOf, readFloor } from './fit.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import { fitAskOfRun } from '../run/rerouteRun.ts';
import { and, asc, eq, gte, inArray } from 'drizzle-orm';
import type { RunOffer } from '../../../contract/api/fit.ts';
import { runName } from '../../../core/flow/runName.ts';
import { outstandingPieceRows } from '../../db/runViews.ts';
import { jobs, pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type FitWork } from './fitWork.ts';
import { queuedLine } from './lineOrder.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** Failed runs are remembered for so long that their rest is offered. */
const REST_MS = 24 * 3_600_000;

/**
 * What a printer that stands could give to others: the rest of runs that failed on it, then its queued runs in their order,
 * each with the best other printer of its fit list, or with what is in the way everywhere. Each is judged as if it went alone.
 */
export async function offersOf(shop: Shop, printerId: string, how: RunHow = {}): Promise<RunOffer[]> {
  const floor = readFloor(shop);
  if (!floor.printers.some(({ id }) => id === printerId))
    throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
  const rests = failedRuns(shop, printerId)
    .map((run) => ({ run, kind: 'rest' as const, ask: { work: restOf(shop, run), exceptRunId: run.id } }))
    .filter(({ ask }) => ask.work.pieces.length > 0);
  const queued = queuedLine(shop.db, printerId).map((run) => ({
    run,
    kind: 'queued' as const,
    ask: fitAskOfRun(shop, run),
  }));
  const all = [...rests, ...queued];
  const fits = await fitsFor(
    shop,
    floor,
    all.map(({ ask }) => ask),
    how,
  );
  return all.map(({ run, kind }, i) => offerOf(run, kind, fits[i] ?? [], printerId));
}

/** The best other printer for a run, or what keeps it where it is. */
function offerOf(run: RunRow, kind: RunOffer['kind'], fits: readonly Fit[], printerId: string): RunOffer {
  const others = fits.filter((fit) => fit.printerId !== printerId);
  const best = run.side ? undefined : others.find((fit) => fit.can);
  const nearest = others.find((fit) => !fit.can);
  return {
    runId: run.id,
    name: runName(run.number),
    kind,
    to: best
      ? { printerId: best.printerId, printerName: best.printerName, endMs: best.endMs, lateMs: best.lateMs }
      : null,
    why: whyNot(run, nearest),
  };
}

/** What keeps a run from going anywhere else. */
function whyNot(run: RunRow, nearest: Fit | undefined): string {
  if (run.side) return 'It has two sides: give its back up first.';
  if (nearest?.can === false) return nearest.troubles.map(({ text }) => `${text}.`).join(' ');
  return 'There is no other printer.';
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
  return { jobs: rows.map(fitJob), pieces: owed.filter(({ pieceId }) => ids.has(pieceId)), ...pagesOf(db, jobIds) };
}
