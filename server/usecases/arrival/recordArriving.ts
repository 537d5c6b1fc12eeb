import { PROGRAM } from '../../../core/events/actor.ts';
import { and, eq } from 'drizzle-orm';
import { jobs } from '../../db/tables/schema.ts';
import { type Shop, newId, transact } from '../../shop.ts';
import { TicketService } from '../ticket/ticketService.ts';

export interface GrowingFile {
  readonly hotFolderId: string;
  readonly queueId: string;
  readonly sourceName: string;
  readonly bytes: number;
}

/** Shows a file that still grows as a job `arriving`, and how much of it is there. */
export function showArriving(shop: Shop, file: GrowingFile): void {
  transact(shop, ({ tx, nowMs, touch }) => {
    const same = and(
      eq(jobs.state, 'arriving'),
      eq(jobs.hotFolderId, file.hotFolderId),
      eq(jobs.sourceName, file.sourceName),
    );
    const known = tx.update(jobs).set({ bytes: file.bytes }).where(same).returning({ id: jobs.id }).all();
    if (known[0]) {
      touch({ type: 'job', id: known[0].id });
      return;
    }
    const id = newId('job');
    tx.insert(jobs)
      .values({
        id,
        queueId: file.queueId,
        hotFolderId: file.hotFolderId,
        sourceName: file.sourceName,
        bytes: file.bytes,
        state: 'arriving',
        ticket: new TicketService(tx).stamp(file.queueId, {}),
        findings: [],
        arrivedMs: nowMs,
      })
      .run();
    touch({ type: 'job', id });
  });
}

/** Takes away what was shown of files that are no longer in the folder (removed by whoever put them there). */
export function forgetArriving(shop: Shop, hotFolderId: string, stillThere: ReadonlySet<string>): void {
  const rows = shop.db
    .select({ id: jobs.id, name: jobs.sourceName })
    .from(jobs)
    .where(and(eq(jobs.state, 'arriving'), eq(jobs.hotFolderId, hotFolderId)))
    .all();
  const gone = rows.filter((row) => !stillThere.has(row.name));
  if (gone.length === 0) return;
  transact(shop, (work) => {
    for (const row of gone) {
      work.tx
        .delete(jobs)
        .where(and(eq(jobs.id, row.id), eq(jobs.state, 'arriving')))
        .run();
      work.note({
        kind: 'file.gone',
        subject: ['job', row.id],
        actor: PROGRAM,
        data: { file: row.name },
      });
      work.touch({ type: 'job', id: row.id });
    }
  });
}
