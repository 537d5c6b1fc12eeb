import { and, asc, desc, eq, gt, inArray, sql } from 'drizzle-orm';
import type { LogEvent } from '../../contract/api/common.ts';
import type { JobDetail, JobItem, JobList, RefusalView } from '../../contract/api/job.ts';
import type { PieceCounts } from '../../core/flow/job.ts';
import type { Reader } from './open.ts';
import { events, jobPages, jobs, pieces, refusals, runPieces, runs } from './schema.ts';
import { lookKey, usableWidthOf } from './jobLook.ts';
import { contourView, runName } from './runViews.ts';

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
    look: lookKey(row.ticket),
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

/** Newest last, by sequence number; the cursor is the last one seen. */
export function listJobs(db: Reader, limit: number, cursor: string | undefined): JobList {
  const after = Number(cursor ?? 0);
  const rows = db
    .select()
    .from(jobs)
    .where(gt(jobs.seq, after))
    .orderBy(asc(jobs.seq))
    .limit(limit + 1)
    .all();
  const page = rows.slice(0, limit);
  const counts = pieceCounts(
    db,
    page.map((row) => row.id),
  );
  const total =
    db
      .select({ n: sql<number>`count(*)` })
      .from(jobs)
      .get()?.n ?? 0;
  const last = page[page.length - 1];
  return {
    items: page.map((row) => toItem(row, counts.get(row.id))),
    total,
    nextCursor: rows.length > limit && last ? String(last.seq) : null,
  };
}

export function jobItem(db: Reader, id: string): JobItem | undefined {
  const row = db.select().from(jobs).where(eq(jobs.id, id)).get();
  return row && toItem(row, pieceCounts(db, [id]).get(id));
}

export function jobDetail(db: Reader, id: string): JobDetail | undefined {
  const row = db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!row) return undefined;
  const inRuns = db
    .selectDistinct({ id: runs.id, seq: runs.seq, state: runs.state })
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
    runs: inRuns.map((run) => ({ id: run.id, name: runName(run.seq), state: run.state })),
  };
}

export function toLogEvent(row: typeof events.$inferSelect): LogEvent {
  const { undo, ...rest } = row;
  return undo ? { ...rest, undo } : rest;
}

export function logEvents(db: Reader, ids: readonly number[]): LogEvent[] {
  return db
    .select()
    .from(events)
    .where(inArray(events.id, [...ids]))
    .orderBy(asc(events.id))
    .all()
    .map(toLogEvent);
}

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

export function latestLog(db: Reader, limit: number): LogEvent[] {
  return db.select().from(events).orderBy(desc(events.id)).limit(limit).all().map(toLogEvent);
}

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
