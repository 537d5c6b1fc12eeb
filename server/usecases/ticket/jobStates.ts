import { and, eq, inArray } from 'drizzle-orm';
import { jobStateFromPieces } from '../../../core/flow/job.ts';
import { jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import { pieceCounts } from '../../db/views.ts';
import type { Work } from '../../shop.ts';

/** States that follow from the pieces; a job elsewhere (blocked, cancelled…) keeps its state. */
const FOLLOWING = ['ready', 'placed', 'printing', 'printed'] as const;

/** Brings the states of jobs in line with their pieces, after a transition that moved pieces. */
export function updateJobStates(work: Work, jobIds: readonly string[]): void {
  const counts = pieceCounts(work.tx, jobIds);
  for (const id of jobIds) {
    const count = counts.get(id);
    if (!count) continue;
    const state = jobStateFromPieces(count);
    work.tx
      .update(jobs)
      // A job that is printed falls under its keep rule: the next tidying works out when.
      .set({ state, keepDueMs: state === 'printed' ? work.nowMs : null })
      .where(and(eq(jobs.id, id), inArray(jobs.state, [...FOLLOWING])))
      .run();
    work.touch({ type: 'job', id });
  }
}

/** The jobs that have pieces in a run. */
export function jobsOfRun({ tx }: Work, runId: string): string[] {
  return tx
    .selectDistinct({ id: pieces.jobId })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .where(eq(runPieces.runId, runId))
    .all()
    .map((row) => row.id);
}
