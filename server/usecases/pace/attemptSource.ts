import { and, asc, desc, eq, inArray, lt } from 'drizzle-orm';
import { MICRO_PER_MINOR } from '../../../core/estimate/money.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import type { AttemptJob, AttemptPiece, AttemptRecord } from '../../../core/pace/attemptFacts.ts';
import { bookedMm } from '../../../core/stock/need.ts';
import { batches } from '../../db/batches.ts';
import { feedingOf } from '../../db/feeding.ts';
import { findPrinter, findRun } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { pieceOutcomes, runAttempts } from '../../db/tables/records.ts';
import { jobPages, jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import { pieceSize } from '../../db/runViews.ts';
import { pieceCounts } from '../../db/views.ts';
import { termsOf } from '../run/attempts.ts';
import { type JobShare, firedMl, jobShares } from '../run/runCost.ts';
import { within } from '../../../core/schedule/spans.ts';
import { attendedThen } from './hoursHistory.ts';

/** No run takes longer. */
const LONGEST_MS = 31 * 86_400_000;
const MM2_PER_M2 = 1e6;
const MS_PER_H = 3_600_000;

/**
 * An attempt with everything that its figures need, as it was written down when it happened.
 * @param key run, attempt and coat
 * @returns undefined: it has not ended, or its run is gone
 */
export function attemptRecord(db: Reader, key: string): AttemptRecord | undefined {
  const [runId = '', attempt, coat] = key.split('/');
  const row = db
    .select()
    .from(runAttempts)
    .where(
      and(eq(runAttempts.runId, runId), eq(runAttempts.attempt, Number(attempt)), eq(runAttempts.coat, Number(coat))),
    )
    .get();
  const run = findRun(db, runId);
  if (!row || !run || row.outcome === 'on the printer' || row.endedMs === null) return undefined;
  const terms = row.terms ?? termsOf(db, run);
  const config = findPrinter(db, row.printerId)?.config;
  if (!config) return undefined;
  const channelIds = Object.keys(run.inkMl);
  const fired = firedMl(db, { printerId: row.printerId, channelIds, runId, attempt: row.attempt });
  const inkMicro = Object.fromEntries(
    Object.entries(fired).map(([id, ml]) => [id, ml * (terms.pricePerMlMicro[id] ?? 0)]),
  );
  // A device whose clock is wrong does not spread a run over years.
  const startedMs = Math.max(row.startedMs ?? row.endedMs, row.endedMs - LONGEST_MS);
  const runMs = Math.max(0, row.endedMs - startedMs - row.pausedMs);
  const attended = attendedThen(db, startedMs, row.endedMs);
  return {
    runId,
    attempt: row.attempt,
    coat: row.coat,
    printerId: row.printerId,
    stockId: row.stockId,
    queueId: terms.queueId,
    modeId: row.modeId,
    outcome: row.outcome,
    startedMs,
    endedMs: row.endedMs,
    pausedMs: row.pausedMs,
    aloneMs: Math.max(0, runMs - within(startedMs, row.endedMs, attended)),
    estimateMs: row.estimateMs,
    mediaWidthMm: terms.mediaWidthMm,
    leadMm: terms.leadMm,
    trailMm: terms.trailMm,
    lengthMm: row.lengthMm,
    // A back is printed on what its front has fed.
    fedMm: run.side?.side === 'back' ? 0 : bookedMm(row.fedMm, feedingOf(db)(run)),
    inkMl: total(fired),
    plannedInkMl: terms.plannedInkMl,
    inkMicro: total(inkMicro),
    mediaMicroPerMm2: (terms.mediaPerM2Minor * MICRO_PER_MINOR) / MM2_PER_M2,
    microPerMs: (terms.ratePerHourMinor * MICRO_PER_MINOR) / MS_PER_H,
    isChangeOver: isChangeOver(db, row, startedMs),
    pieces: piecesOf(db, runId, row.attempt),
    jobs: jobsOf(db, jobShares(db, run, config, inkMicro)),
  };
}

/** Whether the printer was set to another stock or mode than the run before had. */
function isChangeOver(db: Reader, row: typeof runAttempts.$inferSelect, startedMs: number): boolean {
  const before = db
    .select({ stockId: runAttempts.stockId, modeId: runAttempts.modeId })
    .from(runAttempts)
    .where(and(eq(runAttempts.printerId, row.printerId), lt(runAttempts.startedMs, startedMs)))
    .orderBy(desc(runAttempts.startedMs))
    .limit(1)
    .get();
  return before !== undefined && (before.stockId !== row.stockId || before.modeId !== row.modeId);
}

/** Each piece of a run and what became of it in an attempt: what was found bad later counts as spoiled. */
function piecesOf(db: Reader, runId: string, attempt: number): AttemptPiece[] {
  const rows = db
    .select({
      pieceId: pieceOutcomes.pieceId,
      outcome: pieceOutcomes.outcome,
      jobId: pieceOutcomes.jobId,
      tile: pieces.tile,
      page: jobPages,
      yMm: runPieces.yMm,
      angleDeg: runPieces.angleDeg,
    })
    .from(pieceOutcomes)
    .innerJoin(pieces, eq(pieces.id, pieceOutcomes.pieceId))
    .innerJoin(jobPages, and(eq(jobPages.jobId, pieces.jobId), eq(jobPages.page, pieces.page)))
    .leftJoin(runPieces, and(eq(runPieces.runId, pieceOutcomes.runId), eq(runPieces.pieceId, pieceOutcomes.pieceId)))
    .where(and(eq(pieceOutcomes.runId, runId), eq(pieceOutcomes.attempt, attempt)))
    .orderBy(asc(pieceOutcomes.id))
    .all();
  const byPiece = new Map<string, AttemptPiece>();
  for (const { pieceId, outcome, jobId, tile, page, yMm, angleDeg } of rows) {
    const { widthMm, heightMm } = pieceSize(page, tile);
    const areaMm2 = widthMm * heightMm;
    const along = turnedSize(widthMm, heightMm, angleDeg ?? 0).heightMm;
    const came = outcome === 'printed' ? 'good' : outcome === 'spoiled' ? 'spoiled' : 'not whole';
    byPiece.set(pieceId, { jobId, areaMm2, endMm: (yMm ?? 0) + along, outcome: came });
  }
  return [...byPiece.values()];
}

/** Jobs with what of the attempt they bear, and what each of their pieces brings: what was spoiled is owed again and counts once. */
function jobsOf(db: Reader, shares: readonly JobShare[]): AttemptJob[] {
  const ids = shares.map(({ id }) => id);
  const counts = pieceCounts(db, ids);
  const rows = batches(ids).flatMap((some) =>
    db
      .select({ id: jobs.id, ticket: jobs.ticket, priceMinor: jobs.priceMinor })
      .from(jobs)
      .where(inArray(jobs.id, some))
      .all(),
  );
  return shares.map(({ id, areaMm2, inkMicro }): AttemptJob => {
    const job = rows.find((row) => row.id === id);
    const { owed = 0, placed = 0, printing = 0, printed = 0 } = counts.get(id) ?? {};
    const asked = owed + placed + printing + printed;
    const priceMinor = job?.priceMinor ?? null;
    return {
      id,
      customer: job?.ticket.values.customer ?? '',
      areaMm2,
      inkWeight: inkMicro,
      pieceMicro: priceMinor === null || asked === 0 ? null : (priceMinor * MICRO_PER_MINOR) / asked,
    };
  });
}

const total = (by: Readonly<Record<string, number>>): number => Object.values(by).reduce((sum, each) => sum + each, 0);
