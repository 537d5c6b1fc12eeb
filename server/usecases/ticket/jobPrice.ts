import { eq } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import { jobs } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';

/** What all pieces of a job bring; null: nobody says, and a night counts it by its cost. */
export function setJobPrice(shop: Shop, jobId: string, priceMinor: number | null, actor: Actor): void {
  transact(shop, (work) => {
    const job = work.tx.select().from(jobs).where(eq(jobs.id, jobId)).get();
    if (!job) throw new Refused(404, 'no-such-job', `There is no job ${jobId}.`);
    if (job.priceMinor === priceMinor) return;
    work.tx.update(jobs).set({ priceMinor }).where(eq(jobs.id, jobId)).run();
    work.note({
      kind: 'job.priced',
      subject: ['job', jobId],
      actor,
      data: { file: job.sourceName, priced: priceMinor !== null },
      undo: { label: 'Undo', method: 'PUT', path: `/api/jobs/${jobId}/price`, body: { priceMinor: job.priceMinor } },
    });
    work.touch({ type: 'job', id: jobId });
  });
}
