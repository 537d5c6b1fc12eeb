import { findPrinter, findRun } from '../../db/findRows.ts';
import { runInPlaceOf, layAndQueue, rerouteRun } from './rerouteRun.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray } from 'drizzle-orm';
import { runName } from '../../../core/flow/runName.ts';
import { pieces, runPieces } from '../../db/tables/schema.ts';
import { type RunHow, stepOf } from '../../ports/work.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { assignPieces } from './pieces.ts';
import { jobsOfRun } from '../ticket/jobStates.ts';
import { queuedLine } from '../plan/lineOrder.ts';

/**
 * Prints what a failed or cancelled run did not bring out whole: its pieces that are still owed, as a new run that goes
 * first in the line, on the same printer or on another.
 */
export async function printRest(
  shop: Shop,
  runId: string,
  printerId: string | undefined,
  actor: Actor,
  how: RunHow = {},
): Promise<string> {
  const id = transact(shop, (work) => {
    const { tx } = work;
    const was = findRun(tx, runId);
    if (!was) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (was.state !== 'failed' && was.state !== 'cancelled') {
      throw new Refused(409, 'wrong-state', `${runName(was.number)} is ${was.state}; it has no rest to print.`);
    }
    const own = tx.select({ id: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, runId));
    const owed = tx
      .select({ id: pieces.id, jobId: pieces.jobId })
      .from(pieces)
      .where(and(inArray(pieces.id, own), eq(pieces.state, 'owed')))
      .all();
    if (owed.length === 0) {
      throw new Refused(409, 'nothing-owed', `Every piece of ${runName(was.number)} is printed, or in another run.`);
    }
    const printer = findPrinter(tx, was.printerId);
    if (!printer) throw new Error(`run ${runId} has no printer`);
    const { id: made } = runInPlaceOf(work, {
      madeBy: 'rest',
      was,
      printer,
      queueId: was.queueId,
      ticket: was.ticket,
    });
    assignPieces(work, made, owed);
    const all = tx.select({ id: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, runId)).all().length;
    work.note({
      kind: 'run.rest',
      subject: ['run', made],
      actor,
      data: { run: was.number, pieces: owed.length, of: all },
    });
    work.touch(
      { type: 'run', id: made },
      ...jobsOfRun(work, made).map((jobId) => ({ type: 'job' as const, id: jobId })),
    );
    return { made, printerId: was.printerId };
  });
  // The rest has its run now: it is taken to its end, whoever has lost interest.
  const rest: RunHow = { progress: how.progress };
  const first = queuedLine(shop.db, printerId ?? id.printerId)[0]?.id ?? null;
  if (printerId === undefined || printerId === id.printerId) {
    await layAndQueue(shop, id.made, first, actor, rest);
    return id.made;
  }
  const moved = await rerouteRun(shop, id.made, printerId, null, actor, stepOf(rest, 0, 0.5));
  await layAndQueue(shop, moved, first, actor, stepOf(rest, 0.5, 1));
  return moved;
}
