import { type Actor } from '../../../core/events/actor.ts';
import { eq } from 'drizzle-orm';
import { jobs } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { jobRow } from './changeJobs.ts';
import { updateJobStates } from './jobStates.ts';

/** Cancels a job; nothing of it may be in a run. */
export function cancelJob(shop: Shop, jobId: string, actor: Actor): void {
  transact(shop, (work) => {
    const job = jobRow(work.tx, jobId);
    if (!['ready', 'checked', 'blocked'].includes(job.state)) {
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
      actor,
      data: { file: job.sourceName },
      undo: { label: 'Undo', method: 'POST', path: `/api/jobs/${jobId}/restore` },
    });
  });
}

/** Takes the cancelling of a job back: it waits again, blocked where its findings say so. */
export function restoreJob(shop: Shop, jobId: string, actor: Actor): void {
  transact(shop, (work) => {
    const job = jobRow(work.tx, jobId);
    if (job.state !== 'cancelled') {
      throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}, not cancelled.`, { state: job.state });
    }
    const blocked = job.findings.some((finding) => finding.severity === 'block');
    work.tx
      .update(jobs)
      .set({ state: blocked ? 'blocked' : 'ready' })
      .where(eq(jobs.id, jobId))
      .run();
    updateJobStates(work, [jobId]);
    work.touch({ type: 'job', id: jobId });
    work.note({ kind: 'job.restored', subject: ['job', jobId], actor, data: { file: job.sourceName } });
  });
}

/** A person has looked at a job that waited for it: it may be laid out. */
export function acceptJob(shop: Shop, jobId: string, actor: Actor): void {
  transact(shop, (work) => {
    const job = jobRow(work.tx, jobId);
    if (job.state !== 'checked') {
      throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}; it doesn't wait for a look.`, {
        state: job.state,
      });
    }
    work.tx.update(jobs).set({ state: 'ready' }).where(eq(jobs.id, jobId)).run();
    work.touch({ type: 'job', id: jobId });
    work.note({ kind: 'job.accepted', subject: ['job', jobId], actor, data: { file: job.sourceName } });
  });
}
