import { and, eq, gte, ne } from 'drizzle-orm';
import type { JobChange } from '../../contract/api/job.ts';
import { type Ticket, type TicketKey, moveToQueue, setHere } from '../../core/ticket/ticket.ts';
import { jobPages, jobs, pieces, queues } from '../db/schema.ts';
import { Refused, type Shop, type Work, transact } from '../shop.ts';
import { findingsFor, owePieces } from './admitJob.ts';
import { followPieces } from './jobStates.ts';

type JobRow = typeof jobs.$inferSelect;

const LABELS: Record<TicketKey, string> = {
  copies: 'copies',
  quarterTurn: 'quarter turn',
  modeId: 'print mode',
  stockId: 'stock',
  span: 'carriage span',
  dryOut: 'dry-out feed',
  cutOff: 'cut off',
  customer: 'customer',
  orderNo: 'order',
  dueMs: 'due date',
};

/** Changes a ticket by hand: pieces follow the copies, findings are checked anew, and the change can be undone. */
export function changeJob(shop: Shop, jobId: string, change: JobChange, who: string): void {
  transact(shop, (work) => {
    const job = jobRow(work, jobId);
    if (['arriving', 'arrived', 'cancelled', 'dropped'].includes(job.state)) {
      throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}; its ticket can't be changed.`, {
        state: job.state,
      });
    }
    const { queueId, origins, ...values } = change;
    const moved = queueId === undefined || queueId === job.queueId ? job.ticket : moveTicket(work, job, queueId);
    const ticket = setHere(moved, values, origins);
    mustBeFree(work, job, ticket, queueId);
    if (ticket.values.copies !== job.ticket.values.copies) changeCopies(work, job, ticket.values.copies);
    const nextQueue = queueId ?? job.queueId;
    const pages = work.tx.select().from(jobPages).where(eq(jobPages.jobId, jobId)).all();
    const findings = findingsFor(work.tx, { ...job, queueId: nextQueue, pageSizes: pages }, ticket);
    const blocked = findings.some((finding) => finding.severity === 'block');
    const state =
      blocked && job.state === 'ready' ? 'blocked' : !blocked && job.state === 'blocked' ? 'ready' : job.state;
    work.tx.update(jobs).set({ ticket, findings, queueId: nextQueue, state }).where(eq(jobs.id, jobId)).run();
    followPieces(work, [jobId]);
    const keys = (Object.keys(LABELS) as TicketKey[]).filter((key) => ticket.values[key] !== job.ticket.values[key]);
    const what = [...(nextQueue === job.queueId ? [] : ['queue']), ...keys.map((key) => LABELS[key])].join(', ');
    work.touch({ type: 'job', id: jobId });
    if (what === '') return;
    work.note({
      kind: 'job.changed',
      subject: ['job', jobId],
      who,
      text: `${job.sourceName}: ${what} changed`,
      undo: {
        label: 'Undo',
        method: 'PATCH',
        path: `/api/jobs/${jobId}`,
        body: {
          ...(nextQueue === job.queueId ? {} : { queueId: job.queueId }),
          ...Object.fromEntries(keys.map((key) => [key, job.ticket.values[key]])),
          origins: Object.fromEntries(keys.map((key) => [key, job.ticket.origins[key]])),
        },
      },
    });
  });
}

function jobRow({ tx }: Work, id: string): JobRow {
  const job = tx.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!job) throw new Refused(404, 'no-such-job', `There is no job ${id}.`);
  return job;
}

function moveTicket({ tx }: Work, job: JobRow, queueId: string): Ticket {
  const queue = tx.select().from(queues).where(eq(queues.id, queueId)).get();
  if (!queue) throw new Refused(404, 'no-such-queue', `There is no queue ${queueId}.`);
  return moveToQueue(job.ticket, queue.settings);
}

/** What a run has been laid out by can't change under it. */
function mustBeFree({ tx }: Work, job: JobRow, ticket: Ticket, queueId: string | undefined): void {
  const bound: TicketKey[] = ['modeId', 'stockId', 'span', 'dryOut', 'cutOff'];
  const touched = bound.filter((key) => ticket.values[key] !== job.ticket.values[key]);
  if (touched.length === 0 && (queueId === undefined || queueId === job.queueId)) return;
  const held = tx
    .select({ id: pieces.id })
    .from(pieces)
    .where(and(eq(pieces.jobId, job.id), eq(pieces.state, 'placed')))
    .all();
  if (held.length > 0) {
    throw new Refused(
      409,
      'in-a-run',
      `${String(held.length)} pieces of ${job.sourceName} are in a run; take it back to the Bench first.`,
      { held: held.length },
    );
  }
}

function changeCopies(work: Work, job: JobRow, copies: number): void {
  const { tx } = work;
  const before = job.ticket.values.copies;
  if (copies > before) {
    owePieces(work, job.id, job.pages ?? 1, before, copies);
    return;
  }
  const surplus = and(eq(pieces.jobId, job.id), gte(pieces.copy, copies));
  const held = tx
    .select({ id: pieces.id })
    .from(pieces)
    .where(and(surplus, ne(pieces.state, 'owed')))
    .all();
  if (held.length > 0) {
    throw new Refused(
      409,
      'in-a-run',
      `${held.length} pieces of the copies beyond ${copies} are in a run or printed.`,
      { held: held.length },
    );
  }
  tx.delete(pieces).where(surplus).run();
}

/** Cancels a job; nothing of it may be in a run. */
export function cancelJob(shop: Shop, jobId: string, who: string): void {
  transact(shop, (work) => {
    const job = jobRow(work, jobId);
    if (job.state !== 'ready' && job.state !== 'blocked') {
      throw new Refused(
        409,
        'wrong-state',
        `${job.sourceName} is ${job.state}; only a job that waits can be cancelled.`,
        { state: job.state },
      );
    }
    work.tx.update(jobs).set({ state: 'cancelled' }).where(eq(jobs.id, jobId)).run();
    work.touch({ type: 'job', id: jobId });
    work.note({
      kind: 'job.cancelled',
      subject: ['job', jobId],
      who,
      text: `${job.sourceName} cancelled`,
      undo: { label: 'Undo', method: 'POST', path: `/api/jobs/${jobId}/restore` },
    });
  });
}

export function restoreJob(shop: Shop, jobId: string, who: string): void {
  transact(shop, (work) => {
    const job = jobRow(work, jobId);
    if (job.state !== 'cancelled') {
      throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}, not cancelled.`, { state: job.state });
    }
    const blocked = job.findings.some((finding) => finding.severity === 'block');
    work.tx
      .update(jobs)
      .set({ state: blocked ? 'blocked' : 'ready' })
      .where(eq(jobs.id, jobId))
      .run();
    followPieces(work, [jobId]);
    work.touch({ type: 'job', id: jobId });
    work.note({ kind: 'job.restored', subject: ['job', jobId], who, text: `${job.sourceName} taken back` });
  });
}
