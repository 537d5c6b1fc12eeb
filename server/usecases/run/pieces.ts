import { and, eq, inArray } from 'drizzle-orm';
import { jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import { Refused, type Work } from '../../shop.ts';
import { batches } from '../../db/batches.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';

type OutstandingPieces = readonly { readonly id: string; readonly jobId: string }[];

/** Pieces of these jobs that no run has yet. */
export function outstandingPiecesOf({ tx }: Work, jobIds: readonly string[]): OutstandingPieces {
  return tx
    .select({ id: pieces.id, jobId: pieces.jobId })
    .from(pieces)
    .where(and(inArray(pieces.jobId, [...jobIds]), eq(pieces.state, 'owed')))
    .all();
}

/** Pieces become a run's. Who lays a job out has looked at it. */
export function assignPieces(work: Work, runId: string, owed: OutstandingPieces): void {
  const { tx } = work;
  for (const batch of batches(owed)) {
    tx.insert(runPieces)
      .values(batch.map((piece) => ({ runId, pieceId: piece.id })))
      .run();
    const held = tx
      .update(pieces)
      .set({ state: 'placed', runId })
      .where(
        and(
          inArray(
            pieces.id,
            batch.map((piece) => piece.id),
          ),
          eq(pieces.state, 'owed'),
        ),
      )
      .run().changes;
    if (held !== batch.length) throw new Error('a piece was taken within one transaction');
  }
  const jobIds = [...new Set(owed.map((piece) => piece.jobId))];
  tx.update(jobs)
    .set({ state: 'ready' })
    .where(and(inArray(jobs.id, jobIds), eq(jobs.state, 'checked')))
    .run();
  updateJobStates(work, jobIds);
}

/** Takes the pieces of a run that are owed; refused where another live run was faster. */
export function claimPieces({ tx }: Work, runId: string): void {
  const own = tx.select({ id: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, runId));
  const wanted = own.all().length;
  const held = tx
    .update(pieces)
    .set({ state: 'placed', runId })
    .where(and(inArray(pieces.id, own), eq(pieces.state, 'owed')))
    .run().changes;
  if (held !== wanted) {
    throw new Refused(409, 'pieces-taken', `${wanted - held} of the pieces are in another run or printed already.`);
  }
}

/** Gives pieces that were not printed back as owed. */
export function releasePieces(work: Work, runId: string): void {
  work.tx
    .update(pieces)
    .set({ state: 'owed', runId: null })
    .where(and(eq(pieces.runId, runId), eq(pieces.state, 'placed')))
    .run();
  updateJobStates(work, jobsOfRun(work, runId));
}
