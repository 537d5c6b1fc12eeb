import { usableWidth } from '../../core/layout/usableWidth.ts';
import { and, eq } from 'drizzle-orm';
import { checkJob } from '../../core/ticket/findings.ts';
import type { Finding } from '../../core/ticket/findings.ts';
import { type Ticket, stampTicket } from '../../core/ticket/ticket.ts';
import { batches } from '../db/batches.ts';
import type { Reader } from '../db/open.ts';
import { type Bleed, jobPages, jobs, pieces, printers, queues, stocks } from '../db/schema.ts';
import type { FileFacts } from '../render/facts.ts';
import { Refused, type Shop, type Work, newId, transact } from '../shop.ts';

export interface Arrival {
  readonly claimId: string;
  readonly queueId: string;
  readonly hotFolderId: string | null;
  readonly sourceName: string;
}

/** Turns a file that has been read into a job, whole, in one transaction: pages, findings, ticket and the pieces it owes. */
export function admitJob(
  shop: Shop,
  arrival: Arrival,
  file: { readonly sha256: string; readonly bytes: number; readonly facts: FileFacts },
): string {
  return transact(shop, (work) => {
    const { tx } = work;
    const already = tx.select({ id: jobs.id }).from(jobs).where(eq(jobs.claimId, arrival.claimId)).get();
    if (already) return already.id;
    const queue = tx.select().from(queues).where(eq(queues.id, arrival.queueId)).get();
    if (!queue) throw new Error(`no queue ${arrival.queueId}`);
    const ticket = stampTicket(queue.settings);
    const { facts } = file;
    const first = facts.pages[0];
    if (!first) throw new Error('a file without pages got through');
    const values = {
      queueId: queue.id,
      hotFolderId: arrival.hotFolderId,
      claimId: arrival.claimId,
      sourceName: arrival.sourceName,
      sha256: file.sha256,
      format: facts.format,
      bytes: file.bytes,
      widthMm: first.widthMm,
      heightMm: first.heightMm,
      pages: facts.pages.length,
      pixelsAcross: facts.pixelsAcross,
      assumedDpi: facts.assumedDpi,
      hasAlpha: facts.hasAlpha,
      ticket,
    };
    const findings = findingsFor(tx, { ...values, pageSizes: facts.pages }, ticket);
    const state = findings.some((finding) => finding.severity === 'block') ? ('blocked' as const) : ('ready' as const);
    const id = takeArrivingRow(work, arrival) ?? newId('job');
    const row = { ...values, id, findings, state, arrivedMs: work.nowMs };
    tx.insert(jobs).values(row).onConflictDoUpdate({ target: jobs.id, set: row }).run();
    facts.pages.forEach(({ widthMm, heightMm, bleed, coverage }, page) => {
      tx.insert(jobPages).values({ jobId: id, page, widthMm, heightMm, bleed, coverage }).run();
    });
    owePieces(work, id, facts.pages.length, 0, ticket.values.copies);
    work.note({
      kind: 'job.arrived',
      subject: ['job', id],
      text: `${arrival.sourceName} arrived in ${queue.name}${state === 'blocked' ? ' and is blocked' : ''}`,
    });
    work.touch({ type: 'job', id });
    return id;
  });
}

/** The row that showed the file while it grew, if there was one. */
function takeArrivingRow({ tx }: Work, arrival: Arrival): string | undefined {
  if (arrival.hotFolderId === null) return undefined;
  return tx
    .select({ id: jobs.id })
    .from(jobs)
    .where(
      and(
        eq(jobs.state, 'arriving'),
        eq(jobs.hotFolderId, arrival.hotFolderId),
        eq(jobs.sourceName, arrival.sourceName),
      ),
    )
    .get()?.id;
}

/** More would hold the server up for seconds and fit on no roll. */
const MAX_JOB_PIECES = 20_000;

/** One piece for each page of each copy from `from` up to `to`. */
export function owePieces({ tx }: Work, jobId: string, pages: number, from: number, to: number): void {
  if (pages * to > MAX_JOB_PIECES) {
    throw new Refused(
      409,
      'too-many',
      `${to} copies of ${pages} pages are ${pages * to} pieces; ${MAX_JOB_PIECES} is the limit.`,
      { pieces: pages * to, limit: MAX_JOB_PIECES },
      'Split the order into several jobs.',
    );
  }
  const rows = Array.from({ length: (to - from) * pages }, (_, i) => ({
    id: newId('pc'),
    jobId,
    page: i % pages,
    copy: from + Math.floor(i / pages),
    state: 'owed' as const,
  }));
  for (const batch of batches(rows)) tx.insert(pieces).values(batch).run();
}

export interface Checkable {
  readonly queueId: string;
  readonly pixelsAcross: number | null;
  readonly assumedDpi: number | null;
  readonly hasAlpha: boolean;
  readonly pageSizes: readonly { readonly widthMm: number; readonly heightMm: number; readonly bleed: Bleed }[];
}

/** Checks a job against the queue it is in, with the job's own ticket. */
export function findingsFor(db: Reader, job: Checkable, ticket: Ticket): Finding[] {
  const row = db
    .select({ queue: queues, printer: printers })
    .from(queues)
    .innerJoin(printers, eq(printers.id, queues.printerId))
    .where(eq(queues.id, job.queueId))
    .get();
  const stock = db.select().from(stocks).where(eq(stocks.id, ticket.values.stockId)).get();
  if (!row || !stock) throw new Error(`queue ${job.queueId} or stock ${ticket.values.stockId} is missing`);
  const { config } = row.printer;
  const { usableWidthMm } = usableWidth(
    config,
    stock.widthMm,
    config.mediaMarginMm.leftMm,
    config.mediaMarginMm.rightMm,
  );
  return checkJob({
    // What has to fit is the piece: trim and bleed.
    pages: job.pageSizes.map(({ widthMm, heightMm, bleed }) => ({
      widthMm: widthMm + bleed.leftMm + bleed.rightMm,
      heightMm: heightMm + bleed.topMm + bleed.bottomMm,
    })),
    ...(job.pixelsAcross === null ? {} : { pixelsAcross: job.pixelsAcross }),
    ...(job.assumedDpi === null ? {} : { assumedDpi: job.assumedDpi }),
    hasAlpha: job.hasAlpha,
    quarterTurn: ticket.values.quarterTurn,
    usableWidthMm,
    mediaName: stock.name,
    printerName: row.printer.name,
    longestMm: config.longestMm,
    resolution: { warnBelowDpi: row.queue.warnBelowDpi, noteBelowDpi: row.queue.noteBelowDpi },
  });
}
