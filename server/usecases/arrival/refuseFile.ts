import type { Actor } from '../../../core/events/actor.ts';
import { PROGRAM } from '../../../core/events/actor.ts';
import { and, eq, sql } from 'drizzle-orm';
import { hotFolders, jobs, refusals } from '../../db/tables/schema.ts';
import { type Shop, type Work, newId, transact } from '../../shop.ts';
import type { Arrival } from './admitJob.ts';

/** Records that a file could not become a job; the file itself is moved aside by the caller, before or after a crash. */
export function refuseFile(shop: Shop, arrival: Arrival, reason: string, sidePath: string): void {
  transact(shop, (work) => {
    const { tx } = work;
    const known = tx.select().from(refusals).where(eq(refusals.claimId, arrival.claimId)).get();
    if (known) return;
    dropArriving(work, arrival);
    const id = newId('ref');
    tx.insert(refusals)
      .values({
        id,
        claimId: arrival.claimId,
        queueId: arrival.queueId,
        hotFolderId: arrival.hotFolderId,
        sourceName: arrival.sourceName,
        reason,
        sidePath,
        atMs: work.nowMs,
      })
      .run();
    countRefusal(work, arrival);
    work.note({
      kind: 'file.refused',
      subject: ['refusal', id],
      actor: PROGRAM,
      data: { file: arrival.sourceName, reason },
    });
    work.touch({ type: 'refusal', id });
  });
}

function countRefusal({ tx, nowMs, touch }: Work, { hotFolderId, sourceName, queueId }: Arrival): void {
  if (hotFolderId === null) return;
  tx.update(hotFolders)
    .set({ refusedCount: sql`${hotFolders.refusedCount} + 1`, lastFile: sourceName, lastMs: nowMs })
    .where(eq(hotFolders.id, hotFolderId))
    .run();
  touch({ type: 'queue', id: queueId });
}

/** The row that showed the file while it grew is no job any more. */
function dropArriving({ tx, touch }: Work, { hotFolderId, sourceName }: Arrival): void {
  if (hotFolderId === null) return;
  const rows = tx
    .delete(jobs)
    .where(and(eq(jobs.state, 'arriving'), eq(jobs.hotFolderId, hotFolderId), eq(jobs.sourceName, sourceName)))
    .returning({ id: jobs.id })
    .all();
  touch(...rows.map(({ id }) => ({ type: 'job' as const, id })));
}

/** Puts a refusal away that a person has seen; the file stays where it was put aside. */
export function dismissRefusal(shop: Shop, id: string, actor: Actor): boolean {
  return transact(shop, (work) => {
    const [row] = work.tx
      .update(refusals)
      .set({ dismissed: true })
      .where(eq(refusals.id, id))
      .returning({ file: refusals.sourceName })
      .all();
    if (!row) return false;
    work.touch({ type: 'refusal', id });
    work.note({ kind: 'refusal.dismissed', subject: ['refusal', id], actor, data: row });
    return true;
  });
}
