import type { Actor } from '../../../core/events/actor.ts';
import { runName } from '../../../core/flow/runName.ts';
import { otherSide } from '../../db/runViews.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import { isBack } from '../layout/relayBack.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { type RunRow, transitionRun } from './transitionRun.ts';
import { dropBackPieces } from '../layout/twoSides.ts';
import { releasePieces } from './pieces.ts';
import { sidesOf } from './runRows.ts';

/** A draft is dissolved, with its other side: its pieces are owed again. */
export function dissolveRun(shop: Shop, runId: string, actor: Actor): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) {
      const run = transitionRun(work, id, 'dissolve', { endedMs: work.nowMs });
      releaseUnprinted(work, run);
      work.note({ kind: 'run.dissolved', subject: ['run', id], actor, data: { run: run.number } });
    }
  });
}

/** What a run that is not printed gives back: its pieces, and what was made for a back goes. */
function releaseUnprinted(work: Work, run: RunRow): void {
  const jobIds = jobsOfRun(work, run.id);
  if (isBack(run)) dropBackPieces(work, run.id);
  releasePieces(work, run.id);
  updateJobStates(work, jobIds);
}

/** Cancels a run that the printer has not got yet. One that is on the printer is cancelled there (see Dispatcher). */
export function cancelQueuedRun(shop: Shop, runId: string, actor: Actor): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) cancelOne(work, id, 'cancelled', actor);
  });
  shop.wakeDispatcher();
}

function cancelOne(work: Work, runId: string, reason: string, actor: Actor): void {
  const run = transitionRun(work, runId, 'cancel', { endedMs: work.nowMs, reason });
  releaseUnprinted(work, run);
  work.note({ kind: 'run.cancelled', subject: ['run', runId], actor, data: { run: run.number, atMm: null } });
}

/** A front that is not printed whole leaves nothing that its back could be printed on. */
export function cancelBackOf(work: Work, front: RunRow, actor: Actor): void {
  if (front.pairId === null || isBack(front)) return;
  const back = otherSide(work.tx, front.pairId, front.id);
  if (back?.state === 'queued')
    cancelOne(work, back.id, `its front, ${runName(front.number)}, was not printed whole`, actor);
}
