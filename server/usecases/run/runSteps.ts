import { and, eq, inArray, max, ne } from 'drizzle-orm';
import { pieces, runPieces, runs, stocks } from '../../db/schema.ts';
import { neededMm } from '../../../core/stock/need.ts';
import { feedingOf } from '../../db/feeding.ts';
import { batches } from '../../db/batches.ts';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { otherSide, runName } from '../../db/runViews.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { isBack } from '../layout/relayBack.ts';
import { claimPieces } from './createRun.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { mustBePrintable, printerOf } from '../layout/layOutRun.ts';
import { type RunRow, transitionRun } from './transitionRun.ts';
import { dropBackPieces } from '../layout/twoSides.ts';

/** A draft joins the end of its printer's line; where it has a back, that follows it. */
export function queueRun(shop: Shop, runId: string, who: string): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) queueOne(work, id, who);
  });
  shop.wakeDispatcher();
}

function queueOne(work: Work, runId: string, who: string): void {
  const { tx } = work;
  const last = tx
    .select({ position: max(runs.position) })
    .from(runs)
    .get();
  const run = transitionRun(work, runId, 'queue', { position: (last?.position ?? 0) + 1, goAtMs: null });
  mustBePrintable(work, run);
  // A back is printed on what its front has fed.
  if (!isBack(run)) mustHaveMedia(work, run);
  const printer = printerOf(work.tx, run);
  work.note({
    kind: 'run.queued',
    subject: ['run', runId],
    who,
    text: `${runName(run.seq)} queued on ${printer.name}: ${(run.lengthMm / 1000).toFixed(2)} m${isBack(run) ? ', a back' : ''}`,
    undo: { label: 'Take back', method: 'POST', path: `/api/runs/${runId}/take-back` },
  });
}

/** A run and what is on the other side of its media, the front first; one alone where it has one side. */
function sidesOf({ tx }: Work, runId: string): string[] {
  const run = tx.select().from(runs).where(eq(runs.id, runId)).get();
  const other = run?.pairId == null ? undefined : otherSide(tx, run.pairId, runId);
  if (!run || !other || other.state !== run.state) return [runId];
  return isBack(run) ? [other.id, runId] : [runId, other.id];
}

/**
 * A run may wait for its media: what has to be loaded is planned and said. Refused where no spool of its stock, loaded here
 * or on the rack, could hold it; of the loaded one, what the runs ahead take is gone by then.
 */
function mustHaveMedia(work: Work, run: RunRow): void {
  const { tx } = work;
  const printer = printerOf(tx, run);
  const stock = tx.select().from(stocks).where(eq(stocks.id, run.ticket.stockId)).get();
  const there = spoolViews(tx).filter(
    (spool) => spool.stockId === run.ticket.stockId && (spool.printerId === null || spool.printerId === printer.id),
  );
  const loaded = there.filter((spool) => spool.printerId === printer.id);
  if (there.length === 0) {
    throw new Refused(
      409,
      'not-loaded',
      `No spool of ${stock?.name ?? 'this stock'} is loaded on ${printer.name} or stands on the rack.`,
      undefined,
      'Bring one in on the Media page, or choose another stock.',
    );
  }
  const feeding = feedingOf(tx);
  const aheadOn = (spoolId: string): number =>
    tx
      .select()
      .from(runs)
      .where(
        and(
          eq(runs.spoolId, spoolId),
          inArray(runs.state, ['queued', 'sent', 'printing', 'paused']),
          ne(runs.id, run.id),
        ),
      )
      .all()
      .reduce((sum, row) => sum + neededMm(feeding(row)), 0);
  const needed = neededMm(feeding(run));
  const best = there
    .map((spool) => ({ spool, left: spoolLeftMm(tx, spool.id) - aheadOn(spool.id) }))
    .sort((a, b) => b.left - a.left)[0];
  if (best && needed <= best.left + 1e-6) return;
  const spool = loaded[0] ?? best?.spool;
  const left = spool ? spoolLeftMm(tx, spool.id) - aheadOn(spool.id) : 0;
  throw new Refused(
    409,
    'media-short',
    `${spool?.label ?? 'The spool'} has ${(left / 1000).toFixed(2)} m left after the runs ahead; this run takes ${(needed / 1000).toFixed(2)} m, and no spool on the rack holds that.`,
    { leftMm: left, neededMm: needed },
    'Bring in another spool, or take pieces out of the run.',
  );
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

/** A draft is taken apart, with its other side: its pieces are owed again. */
export function dissolveRun(shop: Shop, runId: string, who: string): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) {
      const run = transitionRun(work, id, 'take apart', { endedMs: work.nowMs });
      releaseUnprinted(work, run);
      work.note({ kind: 'run.taken-apart', subject: ['run', id], who, text: `${runName(run.seq)} taken apart` });
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

/** Cancels a run that has not been sent yet, with its other side, and opens the same layout as a new draft. */
export function returnToDraft(shop: Shop, runId: string, who: string): string {
  return transact(shop, (work) => {
    const ids = sidesOf(work, runId);
    const pairId = ids.length > 1 ? newId('pair') : null;
    const drafts = ids.map((id) => returnOneToDraft(work, id, pairId, who));
    return drafts[ids.indexOf(runId)] ?? runId;
  });
}

function returnOneToDraft(work: Work, runId: string, pairId: string | null, who: string): string {
  const { tx, nowMs } = work;
  const run = tx.select().from(runs).where(eq(runs.id, runId)).get();
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
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
  const id = newId('run');
  const { seq: _seq, ...copy } = run;
  const draft = tx
    .insert(runs)
    .values({ ...copy, id, pairId, state: 'draft', createdMs: nowMs })
    .returning()
    .get();
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
    who,
    text: `${runName(run.seq)} taken back to the Bench as ${runName(draft.seq)}`,
  });
  work.touch({ type: 'run', id });
  return id;
}

/** Cancels a run that the printer has not got yet. One that is on the printer is cancelled there (see Dispatcher). */
export function cancelQueuedRun(shop: Shop, runId: string, who: string): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) cancelOne(work, id, 'cancelled', who);
  });
  shop.wakeDispatcher();
}

function cancelOne(work: Work, runId: string, reason: string, who?: string): void {
  const run = transitionRun(work, runId, 'cancel', { endedMs: work.nowMs, reason });
  releaseUnprinted(work, run);
  const note = { kind: 'run.cancelled', subject: ['run', runId] as const, text: `${runName(run.seq)} cancelled` };
  work.note(who === undefined ? note : { ...note, who });
}

/** A front that is not printed whole leaves nothing that its back could be printed on. */
export function cancelBackOf(work: Work, front: RunRow): void {
  if (front.pairId === null || isBack(front)) return;
  const back = otherSide(work.tx, front.pairId, front.id);
  if (back?.state === 'queued') cancelOne(work, back.id, `its front, ${runName(front.seq)}, was not printed whole`);
}
