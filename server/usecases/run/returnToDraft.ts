import { measuredLike, likeRun, newRun } from './newRun.ts';
import { runRow, sidesOf } from './runRows.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { eq } from 'drizzle-orm';
import { runPieces } from '../../db/schema.ts';
import { batches } from '../../db/batches.ts';
import { runName } from '../../../core/flow/runName.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { claimPieces, releasePieces } from './pieces.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { transitionRun } from './transitionRun.ts';

/** Cancels a run that has not been sent yet, with its other side, and opens the same layout as a new draft. */
export function returnToDraft(shop: Shop, runId: string, actor: Actor): string {
  return transact(shop, (work) => {
    const ids = sidesOf(work, runId);
    const pairId = ids.length > 1 ? newId('pair') : null;
    const drafts = ids.map((id) => returnOneToDraft(work, id, pairId, actor));
    return drafts[ids.indexOf(runId)] ?? runId;
  });
}

/** Takes one queued run back; the draft that takes its place has its layout and its pieces. */
function returnOneToDraft(work: Work, runId: string, pairId: string | null, actor: Actor): string {
  const { tx, nowMs } = work;
  const run = runRow(tx, runId);
  if (run.state !== 'queued') {
    throw new Refused(
      409,
      'wrong-state',
      `${runName(run.seq)} is ${run.state}; only a run that is still queued can be taken back.`,
      { state: run.state },
    );
  }
  if (run.pairId !== null && pairId === null) {
    throw new Refused(409, 'front-printed', `The front of ${runName(run.seq)} is on the printer or printed already.`);
  }
  transitionRun(work, runId, 'cancel', { endedMs: nowMs, reason: 'taken back to the Bench' });
  releasePieces(work, runId);
  const { seriesId, seriesNo, seriesOf, side } = run;
  const draft = newRun(work, {
    ...likeRun(run),
    madeBy: 'taken back',
    position: run.position,
    measured: measuredLike(run),
    fixedStartMs: run.fixedStartMs,
    series: { seriesId, seriesNo, seriesOf },
    pair: { pairId, side },
  });
  const { id } = draft;
  const places = tx.select().from(runPieces).where(eq(runPieces.runId, runId)).all();
  for (const rows of batches(places)) {
    tx.insert(runPieces)
      .values(rows.map((place) => ({ ...place, runId: id })))
      .run();
  }
  claimPieces(work, id);
  updateJobStates(work, jobsOfRun(work, id));
  work.note({
    kind: 'run.taken-back',
    subject: ['run', id],
    actor,
    data: { run: run.seq, draft: draft.seq },
  });
  work.touch({ type: 'run', id });
  return id;
}
