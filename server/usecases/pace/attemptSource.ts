import { and, asc, count, desc, eq, inArray, lt } from 'drizzle-orm';
import { inkMl } from '../../../core/estimate/ink.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import type { AttemptJob, AttemptPiece, AttemptRecord } from '../../../core/pace/attemptFacts.ts';
import { findRun } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { inkLedger, pieceOutcomes, runAttempts } from '../../db/records.ts';
import { jobPages, jobs, pieces, runPieces } from '../../db/schema.ts';
import { pieceSize } from '../../db/runViews.ts';
import { termsOf } from '../run/attempts.ts';
import { within } from '../../../core/schedule/spans.ts';
import { attendedThen } from './hoursHistory.ts';

/** No run takes longer. */
const LONGEST_MS = 31 * 86_400_000;
const MICRO_PER_MINOR = 10_000;
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
  const fired = db
    .select({ channelId: inkLedger.channelId, ml: inkLedger.ml })
    .from(inkLedger)
    .where(and(eq(inkLedger.printerId, row.printerId), eq(inkLedger.runId, runId), eq(inkLedger.attempt, row.attempt)))
    .all();
  // A device whose clock is wrong does not spread a run over years.
  const startedMs = Math.max(row.startedMs ?? row.endedMs, row.endedMs - LONGEST_MS);
  const runMs = Math.max(0, row.endedMs - startedMs - row.pausedMs);
  const attended = attendedThen(db, startedMs, row.endedMs);
  const laid = piecesOf(db, runId, row.attempt);
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
    fedMm: run.side?.side === 'back' ? 0 : row.fedMm,
    inkMl: fired.reduce((sum, { ml }) => sum - ml, 0),
    plannedInkMl: terms.plannedInkMl,
    inkMicro: fired.reduce((sum, { channelId, ml }) => sum - ml * (terms.pricePerMlMicro[channelId] ?? 0), 0),
    mediaMicroPerMm2: (terms.mediaPerM2Minor * MICRO_PER_MINOR) / MM2_PER_M2,
    microPerMs: (terms.ratePerHourMinor * MICRO_PER_MINOR) / MS_PER_H,
    isChangeOver: isChangeOver(db, row, startedMs),
    pieces: laid.map(({ piece }) => piece),
    jobs: jobsOf(db, laid),
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

interface LaidPiece {
  readonly piece: AttemptPiece;
  readonly inkAsked: number;
}

/** Each piece of a run and what became of it in an attempt: what was found bad later counts as spoiled. */
function piecesOf(db: Reader, runId: string, attempt: number): LaidPiece[] {
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
  const byPiece = new Map<string, LaidPiece>();
  for (const { pieceId, outcome, jobId, tile, page, yMm, angleDeg } of rows) {
    const { widthMm, heightMm } = pieceSize(page, tile);
    const areaMm2 = widthMm * heightMm;
    const along = turnedSize(widthMm, heightMm, angleDeg ?? 0).heightMm;
    const came = outcome === 'printed' ? 'good' : outcome === 'spoiled' ? 'spoiled' : 'not whole';
    byPiece.set(pieceId, {
      piece: { jobId, areaMm2, endMm: (yMm ?? 0) + along, outcome: came },
      inkAsked: Object.values(page.coverage).reduce((sum, share) => sum + inkMl(share, areaMm2, 1, 1, 1), 0),
    });
  }
  return [...byPiece.values()];
}

function jobsOf(db: Reader, laid: readonly LaidPiece[]): AttemptJob[] {
  const own = new Map<string, { areaMm2: number; inkWeight: number }>();
  for (const { piece, inkAsked } of laid) {
    const sums = own.get(piece.jobId) ?? { areaMm2: 0, inkWeight: 0 };
    own.set(piece.jobId, { areaMm2: sums.areaMm2 + piece.areaMm2, inkWeight: sums.inkWeight + inkAsked });
  }
  return [...own].map(([id, sums]): AttemptJob => {
    const job = db.select({ ticket: jobs.ticket, priceMinor: jobs.priceMinor }).from(jobs).where(eq(jobs.id, id)).get();
    const asked = pieceCount(db, id);
    const priceMinor = job?.priceMinor ?? null;
    return {
      id,
      customer: job?.ticket.values.customer ?? '',
      ...sums,
      pieceMicro: priceMinor === null || asked === 0 ? null : (priceMinor * MICRO_PER_MINOR) / asked,
    };
  });
}

/** Pieces that a job is made of: what was spoiled is owed again and counts once. */
function pieceCount(db: Reader, jobId: string): number {
  const row = db
    .select({ n: count() })
    .from(pieces)
    .where(and(eq(pieces.jobId, jobId), inArray(pieces.state, ['owed', 'placed', 'printed'])))
    .get();
  return row?.n ?? 0;
}
