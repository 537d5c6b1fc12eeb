import { PROGRAM } from '../../../core/events/actor.ts';
import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import { partsOf } from '../../../core/ticket/parts.ts';
import type { Ticket, TicketPart } from '../../../core/ticket/ticket.ts';
import type { Reader } from '../../db/open.ts';
import { type ArrivalRule, hotFolders, jobPages, jobs, type queues } from '../../db/tables/schema.ts';
import type { FileFacts } from '../../render/facts.ts';
import { type Shop, type Work, newId, transact } from '../../shop.ts';
import { addOutstandingPieces, panelCount, pieceKinds } from '../ticket/outstandingPieces.ts';
import { TicketService } from '../ticket/ticketService.ts';

type QueueRow = typeof queues.$inferSelect;

/** What came along with a file: how its job's ticket is stamped, and what happens next. */
export interface Arrival {
  readonly claimId: string;
  readonly queueId: string;
  readonly hotFolderId: string | null;
  readonly sourceName: string;
  readonly presetId?: string | null;
  readonly arrivalRule?: ArrivalRule | null;
  readonly fileName?: TicketPart;
  readonly ticketFile?: TicketPart;
}

/**
 * Turns a file that has been read into a job, or a job for each page, whole, in one transaction: pages, findings, ticket and
 * the pieces it owes.
 * @returns the ids of the jobs, in the order of the pages
 */
export function admitJob(
  shop: Shop,
  arrival: Arrival,
  file: { readonly sha256: string; readonly bytes: number; readonly facts: FileFacts },
): string[] {
  return transact(shop, (work) => {
    const already = jobsOfClaim(work.tx, arrival.claimId);
    if (already.length > 0) return already;
    const desk = new TicketService(work.tx);
    const ticket = desk.stamp(arrival.queueId, arrival);
    const { pages } = file.facts;
    if (pages.length === 0) throw new Error('a file without pages got through');
    const each = ticket.values.pagesAs === 'a job each' && pages.length > 1;
    const parcels = each ? pages.map((_, page) => [page]) : [pages.map((_, page) => page)];
    const ids = parcels.map((sourcePages) => admitPages(work, desk, arrival, file, ticket, sourcePages));
    const { queue } = desk.queue(arrival.queueId);
    const free = work.tx
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(inArray(jobs.id, ids), ne(jobs.state, 'blocked')))
      .all()
      .map(({ id }) => id);
    const blocked = !free.includes(ids[0] ?? '');
    addFollowUp(shop, work, arrival, queue, free);
    work.note({
      kind: 'job.arrived',
      subject: ['job', ids[0] ?? ''],
      actor: PROGRAM,
      data: { file: arrival.sourceName, queue: queue.name, jobs: ids.length, blocked },
    });
    countIn(work, arrival);
    return ids;
  });
}

/** The jobs that have been made of a claimed file, in the order of its pages; none: it has not been admitted yet. */
export function jobsOfClaim(db: Reader, claimId: string): string[] {
  return db
    .select({ id: jobs.id })
    .from(jobs)
    .where(eq(jobs.claimId, claimId))
    .orderBy(jobs.seq)
    .all()
    .map((row) => row.id);
}

function admitPages(
  work: Work,
  desk: TicketService,
  arrival: Arrival,
  { sha256, bytes, facts }: { readonly sha256: string; readonly bytes: number; readonly facts: FileFacts },
  ticket: Ticket,
  sourcePages: readonly number[],
): string {
  const { tx } = work;
  const pages = sourcePages.flatMap((sourcePage) => {
    const page = facts.pages[sourcePage];
    return page ? [{ ...page, sourcePage }] : [];
  });
  const { nature } = facts;
  const { findings, finished } = desk.judge(arrival.queueId, ticket, nature, pages);
  const blocked = findings.some((finding) => finding.severity === 'block');
  const { queue } = desk.queue(arrival.queueId);
  const rule = arrival.arrivalRule ?? queue.arrivalRule;
  const single = sourcePages.length === 1 && facts.pages.length > 1;
  const first = pages[0];
  if (!first) throw new Error('a job without pages');
  const row = {
    id: (single && sourcePages[0] !== 0 ? undefined : claimArrivingRow(work, arrival)) ?? newId('job'),
    queueId: arrival.queueId,
    hotFolderId: arrival.hotFolderId,
    claimId: arrival.claimId,
    sourceName: single ? pageName(arrival.sourceName, (sourcePages[0] ?? 0) + 1) : arrival.sourceName,
    sha256,
    format: facts.format,
    bytes,
    widthMm: finished[0]?.widthMm ?? first.widthMm,
    heightMm: finished[0]?.heightMm ?? first.heightMm,
    pages: pages.length,
    nature,
    ticket,
    findings,
    // Where a person looks first, the job stays *checked* until somebody has.
    state: blocked ? ('blocked' as const) : rule === 'wait' ? ('checked' as const) : ('ready' as const),
    arrivedMs: work.nowMs,
  };
  tx.insert(jobs).values(row).onConflictDoUpdate({ target: jobs.id, set: row }).run();
  pages.forEach((page, index) => {
    tx.insert(jobPages)
      .values({ jobId: row.id, page: index, ...page, finished: finished[index] ?? null })
      .run();
  });
  const parts = partsOf(ticket.values.separations, nature.spots);
  addOutstandingPieces(
    work,
    row.id,
    pieceKinds(
      pages.map((_, i) => panelCount(finished[i])),
      parts,
    ),
    0,
    ticket.values.copies,
  );
  work.touch({ type: 'job', id: row.id });
  return row.id;
}

/**
 * Writes down, with the jobs, what follows their arrival; where nothing does, nothing is. A queue that routes decides first;
 * the queue that a job is routed to may then have the rule *go*.
 */
function addFollowUp(shop: Shop, { tx }: Work, arrival: Arrival, queue: QueueRow, jobIds: readonly string[]): void {
  const rule = arrival.arrivalRule ?? null;
  const routes = queue.routing !== 'stays';
  if (jobIds.length === 0 || (!routes && (rule ?? queue.arrivalRule) !== 'go')) return;
  shop.tasks.add(tx, 'arrival', arrival.claimId, { jobIds, rule, step: routes ? 'route' : 'go' });
}

function pageName(name: string, page: number): string {
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 ? name.slice(0, dot) : name;
  return `${stem}, page ${String(page)}${dot > 0 ? name.slice(dot) : ''}`;
}

function countIn({ tx, nowMs, touch }: Work, { hotFolderId, sourceName, queueId }: Arrival): void {
  if (hotFolderId === null) return;
  tx.update(hotFolders)
    .set({ taken: sql`${hotFolders.taken} + 1`, lastFile: sourceName, lastMs: nowMs })
    .where(eq(hotFolders.id, hotFolderId))
    .run();
  touch({ type: 'queue', id: queueId });
}

/** The row that showed the file while it grew, if there was one. */
function claimArrivingRow({ tx }: Work, arrival: Arrival): string | undefined {
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
