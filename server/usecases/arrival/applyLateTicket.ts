import { PROGRAM } from '../../../core/events/actor.ts';
import { and, desc, eq, inArray, like, or } from 'drizzle-orm';
import { type TicketPart, makeTicket, sameValue } from '../../../core/ticket/ticket.ts';
import { jobs } from '../../db/tables/schema.ts';
import { Refused, type Shop, newId, transact } from '../../shop.ts';
import { anewFor, changeOne } from '../ticket/changeJobs.ts';
import { TicketService } from '../ticket/ticketService.ts';

/**
 * A ticket that came after its file: its values are laid on the job, unless that has gone too far.
 * @param name of the file, or without its ending
 * @returns whether there was such a job
 */
export function lateTicket(shop: Shop, hotFolderId: string, name: string, values: TicketPart): boolean {
  return transact(shop, (work) => {
    const job = work.tx
      .select()
      .from(jobs)
      .where(
        and(
          eq(jobs.hotFolderId, hotFolderId),
          or(eq(jobs.sourceName, name), like(jobs.sourceName, `${name.replace(/[%_]/g, '_')}.%`)),
          inArray(jobs.state, ['checked', 'ready', 'blocked']),
        ),
      )
      .orderBy(desc(jobs.seq))
      .limit(1)
      .get();
    if (!job) return false;
    if (sameValue(job.ticket.layers['ticket file'], values)) return true;
    const changeId = newId('chg');
    try {
      const what = changeOne(
        work,
        new TicketService(work.tx),
        job,
        (desk) => {
          const ticket = makeTicket({ ...job.ticket.layers, 'ticket file': values }, job.ticket.preset);
          const moved = ticket.values.stockId !== job.ticket.values.stockId;
          return { ticket: moved ? anewFor(desk, ticket, job.queueId) : ticket, queueId: job.queueId };
        },
        changeId,
      );
      work.note({
        kind: 'job.ticket-came',
        subject: ['job', job.id],
        actor: PROGRAM,
        data: { file: job.sourceName, what },
        undo: { label: 'Undo', method: 'POST', path: `/api/changes/${changeId}/undo` },
      });
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      return false;
    }
    return true;
  });
}
