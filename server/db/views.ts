import { and, asc, desc, eq, gt, inArray, lte, sql } from 'drizzle-orm';
import type { LogEvent } from '../../contract/api/common.ts';
import type { JobDetail, JobItem, JobList, JobsWhich, RefusalView } from '../../contract/api/job.ts';
import { LIVE_JOB_STATES, type PieceCounts } from '../../core/flow/job.ts';
import type { Reader } from './open.ts';
import { events } from './tables/records.ts';
import { jobPages, jobs, pieces, refusals, runPieces, runs } from './tables/schema.ts';
import { appearanceKey, usableWidthOf } from './jobLook.ts';
import { searchJobs } from './jobSearch.ts';
import { runName } from '../../core/flow/runName.ts';
import { contourView } from './runViews.ts';

type JobRow = typeof jobs.$inferSelect;

const NO_PIECES: PieceCounts = { owed: 0, placed: 0, printing: 0, printed: 0, spoiled: 0 };

/** Pieces of jobs by state; those of a run that is on its printer count as printing. */
export function pieceCounts(db: Reader, jobIds: readonly string[]): Map<string, PieceCounts> {
  const counts = new Map<string, PieceCounts>();
  if (jobIds.length === 0) return counts;
  const rows = db
    .select({
      jobId: pieces.jobId,
      state: pieces.state,
      onPrinter: sql<number>`coalesce(${runs.state} in ('printing', 'paused'), 0)`,
      n: sql<number>`count(*)`,
    })
    .from(pieces)
    .leftJoin(runs, and(eq(runs.id, pieces.runId), eq(pieces.state, 'placed')))
    .where(inArray(pieces.jobId, [...jobIds]))
    .groupBy(pieces.jobId, pieces.state, sql`3`)
    .all();
  for (const row of rows) {
    const key = row.state === 'placed' && row.onPrinter ? 'printing' : row.state;
    const now = counts.get(row.jobId) ?? NO_PIECES;
    counts.set(row.jobId, { ...now, [key]: now[key] + row.n });
  }
  return counts;
}

/** A job as the lists show it. A list of thousands is sent at once: what only the open ticket shows is not in it. */
function toItem(row: JobRow, counts: PieceCounts | undefined): JobItem {
  const { values } = row.ticket;
  return {
    id: row.id,
    seq: row.seq,
    sourceName: row.sourceName,
    format: row.format,
    widthMm: row.widthMm,
    heightMm: row.heightMm,
    pages: row.pages,
    state: row.state,
    findings: row.findings.map((finding) => ({ ...finding, figures: { ...finding.figures } })),
    stockId: values.stockId,
    modeId: values.modeId,
    presetName: row.ticket.preset?.name ?? null,
    priority: values.priority,
    look: appearanceKey(row.ticket),
    queueId: row.queueId,
    copies: values.copies,
    customer: values.customer,
    orderNo: values.orderNo,
    dueMs: values.dueMs,
    bytes: row.bytes,
    arrivedMs: row.arrivedMs,
    pieces: counts ?? NO_PIECES,
  };
}

export interface JobsWanted {
  readonly which: JobsWhich;
  readonly order: 'oldest' | 'newest';
  readonly limit: number;
  /** Number of the last job that was seen. */
  readonly cursor?: string | undefined;
  readonly queueId?: string | undefined;
  readonly text?: string | undefined;
}

/** A page of jobs by their numbers; the cursor is the last one seen. What it costs does not grow with the shop's years. */
export function listJobs(db: Reader, wanted: JobsWanted): JobList {
  const { limit } = wanted;
  const rows = jobRows(db, wanted, limit + 1);
  const page = rows.slice(0, limit);
  const counts = pieceCounts(
    db,
    page.map((row) => row.id),
  );
  const last = page[page.length - 1];
  return {
    items: page.map((row) => toItem(row, counts.get(row.id))),
    nextCursor: rows.length > limit && last ? String(last.seq) : null,
  };
}

/** More than any shop will ever number. */
const NO_SEQ = Number.MAX_SAFE_INTEGER;

/** The rows of one page of a list, and no more: the past is read by cursor along an index. */
function jobRows(db: Reader, { which, order, cursor, queueId, text = '' }: JobsWanted, limit: number): JobRow[] {
  const newest = order === 'newest';
  if (text.trim() !== '') {
    const beforeSeq = Number(cursor ?? NO_SEQ);
    const seqs = searchJobs(db, { which, text, queueId, beforeSeq, limit });
    return db.select().from(jobs).where(inArray(jobs.seq, seqs)).orderBy(desc(jobs.seq)).all();
  }
  const from = Number(cursor ?? (newest ? NO_SEQ : 0));
  // A list is read along the one index that holds it, in its order; what a plus stands before is only compared.
  const ofQueue = queueId !== undefined && which !== 'live';
  const seq = ofQueue ? jobs.seq : { all: jobs.seq, live: jobs.seq, past: jobs.pastSeq, kept: jobs.keptSeq }[which];
  const compared = {
    all: undefined,
    // Of the jobs at work there are few: they are found by their state, then put in order.
    live: inArray(jobs.state, [...LIVE_JOB_STATES]),
    past: ofQueue ? sql`+${jobs.pastSeq} IS NOT NULL` : undefined,
    kept: ofQueue ? sql`+${jobs.keptSeq} IS NOT NULL` : undefined,
  }[which];
  const bound = which === 'live' ? sql`+${jobs.seq}` : sql`${seq}`;
  const own = queueId === undefined ? undefined : eq(jobs.queueId, queueId);
  return db
    .select()
    .from(jobs)
    .where(and(newest ? sql`${bound} < ${from}` : sql`${bound} > ${from}`, compared, own))
    .orderBy(newest ? desc(seq) : asc(seq))
    .limit(limit)
    .all();
}

/** A job as lists show it. */
export function jobItem(db: Reader, id: string): JobItem | undefined {
  const row = db.select().from(jobs).where(eq(jobs.id, id)).get();
  return row && toItem(row, pieceCounts(db, [id]).get(id));
}

/** A job with its ticket, its pages, its last hundred events and its last twenty runs. */
export function jobDetail(db: Reader, id: string): JobDetail | undefined {
  const row = db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!row) return undefined;
  const inRuns = db
    .selectDistinct({ id: runs.id, number: runs.number, state: runs.state })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(runs, eq(runs.id, runPieces.runId))
    .where(eq(pieces.jobId, id))
    .orderBy(desc(runs.seq))
    .limit(20)
    .all();
  return {
    ...toItem(row, pieceCounts(db, [id]).get(id)),
    ticket: row.ticket,
    priceMinor: row.priceMinor,
    nature: row.nature,
    usableWidthMm: usableWidthOf(db, row),
    pageList: db
      .select()
      .from(jobPages)
      .where(eq(jobPages.jobId, id))
      .orderBy(asc(jobPages.page))
      .all()
      .map(({ page, widthMm, heightMm, bleed, coverage, dpi, finished, cutLines }) => ({
        page,
        widthMm: finished?.widthMm ?? widthMm,
        heightMm: finished?.heightMm ?? heightMm,
        bleedMm: finished?.bleed ?? bleed,
        source: { widthMm, heightMm, bleedMm: bleed },
        panels: finished?.panels ? [...finished.panels] : null,
        contour: finished?.contour ? contourView(finished.contour) : null,
        cutLines: (cutLines ?? []).map(({ from, name, rings }) => ({ from, name, rings: rings.length })),
        dpi: dpi === null || !finished ? dpi : dpi / Math.max(finished.scaleX, finished.scaleY),
        coverage,
      })),
    history: db
      .select()
      .from(events)
      .where(and(eq(events.subjectType, 'job'), eq(events.subjectId, id)))
      .orderBy(desc(events.id))
      .limit(100)
      .all()
      .map(toLogEvent),
    runs: inRuns.map((run) => ({ id: run.id, name: runName(run.number), state: run.state })),
  };
}

/** A row of the log as it is told; the step back only where there is one. */
export function toLogEvent(row: typeof events.$inferSelect): LogEvent {
  const { undo, ...rest } = row;
  return undo ? { ...rest, undo } : rest;
}

/** Some rows of the log, oldest first. */
export function logEvents(db: Reader, ids: readonly number[]): LogEvent[] {
  return db
    .select()
    .from(events)
    .where(inArray(events.id, [...ids]))
    .orderBy(asc(events.id))
    .all()
    .map(toLogEvent);
}

/** What a page has missed since the row that it saw last, oldest first. */
export function logAfter(db: Reader, after: number, limit: number): LogEvent[] {
  return db
    .select()
    .from(events)
    .where(gt(events.id, after))
    .orderBy(asc(events.id))
    .limit(limit)
    .all()
    .map(toLogEvent);
}

/** The last rows of the log, newest first. */
export function latestLog(db: Reader, limit: number): LogEvent[] {
  // Counted back from the last one: the log itself is never walked.
  const last = sql`(SELECT max(id) FROM events)`;
  return db
    .select()
    .from(events)
    .where(and(lte(events.id, last), gt(events.id, sql`${last} - ${limit}`)))
    .orderBy(desc(events.id))
    .all()
    .map(toLogEvent);
}

/** Files that were refused and that nobody has put away yet, newest first, 200 at most. */
export function openRefusals(db: Reader): RefusalView[] {
  return db
    .select()
    .from(refusals)
    .where(eq(refusals.dismissed, false))
    .orderBy(desc(refusals.atMs))
    .limit(200)
    .all()
    .map(({ id, sourceName, reason, queueId, sidePath, atMs }) => ({
      id,
      sourceName,
      reason,
      queueId,
      sidePath,
      atMs,
    }));
}
