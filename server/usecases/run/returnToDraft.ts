import { measuredLike, likeRun, newRun } from './newRun.ts';
import { runRow, sidesOf } from './runRows.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { runPieces, runs } from '../../db/tables/schema.ts';
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

/**
 * Takes the segments of a series that are still queued back to the Bench, all in one step; what is on the printer goes on.
 * @returns the ids of the drafts, in the order of the series
 */
export function takeSeriesBack(shop: Shop, seriesId: string, actor: Actor): string[] {
  return transact(shop, (work) => {
    const own = work.tx
      .select({ id: runs.id, state: runs.state })
      .from(runs)
      .where(and(eq(runs.seriesId, seriesId), inArray(runs.state, ['queued', 'sent', 'printing', 'paused'])))
      .orderBy(asc(runs.seriesNo))
      .all();
    const queued = own.filter(({ state }) => state === 'queued');
    if (queued.length === 0) throw new Refused(409, 'nothing-queued', 'None of these segments is queued any more.');
    const drafts = queued.map(({ id }) => returnOneToDraft(work, id, null, actor));
    work.note({
      kind: 'series.taken-back',
      subject: ['run', drafts[0] ?? seriesId],
      actor,
      data: { runs: drafts.length, gone: own.length - queued.length },
    });
    return drafts;
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
      `${runName(run.number)} is ${run.state}; only a run that is still queued can be taken back.`,
      { state: run.state },
    );
  }
  if (run.pairId !== null && pairId === null) {
    throw new Refused(
      409,
      'front-printed',
      `The front of ${runName(run.number)} is on the printer or printed already.`,
    );
  }
  transitionRun(work, runId, 'cancel', { endedMs: nowMs, reason: 'taken back to the Bench' });
  releasePieces(work, runId);
  const { seriesId, seriesNo, seriesOf, side } = run;
  const draft = newRun(work, {
    ...likeRun(run),
    madeBy: 'taken back',
    number: run.number,
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
    data: { run: run.number, draft: draft.number },
  });
  work.touch({ type: 'run', id });
  return id;
}
