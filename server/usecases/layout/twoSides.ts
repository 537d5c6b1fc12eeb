import { counted } from '../../../core/counted.ts';
import { findRun } from '../../db/findRows.ts';
import { likeRun, newRun } from '../run/newRun.ts';
import { draftRow } from '../run/runRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray } from 'drizzle-orm';
import type { BacksRule, RunSide, SideSettings, TwoSidesOrder } from '../../../contract/api/run.ts';
import { batches } from '../../db/batches.ts';
import { runName } from '../../../core/flow/runName.ts';
import { otherSide, runPieceRows } from '../../db/runViews.ts';
import { pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { spools } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { relayBack } from './relayBack.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { measureLaid } from './layOutRun.ts';
import { type RunRow, transitionRun } from '../run/transitionRun.ts';
import { mmSizeText } from '../../../core/units/lengthText.ts';

type PieceRow = ReturnType<typeof runPieceRows>[number];

interface Behind {
  readonly frontId: string;
  readonly backId: string;
}

/** Two lengths that are the same to a cutter. */
const SAME_MM = 0.1;

/** Gives a draft a back: a run of its own on the other side of the same media, which follows the front. */
export function printTwoSides(shop: Shop, runId: string, order: TwoSidesOrder, actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const front = draftRow(tx, runId, 'changed');
    if (front.side) throw new Refused(409, 'two-sided', `${runName(front.number)} has two sides already.`);
    if (front.seriesId !== null) {
      throw new Refused(409, 'segment', `${runName(front.number)} is a segment; put the segments together first.`);
    }
    const { backs, ...settings } = order;
    const rows = runPieceRows(tx, runId);
    const behind = pairsOf(work, rows, backs);
    const pairId = newId('pair');
    const side = (which: RunSide['side']): RunSide => ({ ...settings, side: which, confirmedMs: null });
    const paired = tx
      .update(runs)
      // Who gives a run a back has taken it in hand: it no longer goes by itself.
      .set({ pairId, side: side('front'), goAtMs: null })
      .where(eq(runs.id, runId))
      .returning()
      .get();
    const back = newRun(work, {
      ...likeRun(paired),
      madeBy: 'back',
      position: paired.position,
      measured: { lengthMm: paired.lengthMm, estimateMs: paired.estimateMs, inkMl: {}, evenMl: {} },
      fixedStartMs: paired.fixedStartMs,
      pair: { pairId, side: side('back') },
    });
    const backId = back.id;
    moveToBack(work, runId, backId, behind);
    if (backs.kind !== 'the same picture') unplace(work, runId);
    settle(work, paired);
    updateJobStates(work, jobsOfRun(work, runId));
    work.note({
      kind: 'run.two-sided',
      subject: ['run', runId],
      actor,
      data: { run: front.number, turn: settings.turn },
      undo: { label: 'One side only', method: 'POST', path: `/api/runs/${runId}/one-side` },
    });
    work.touch({ type: 'run', id: runId }, { type: 'run', id: backId });
  });
}

/** Length, time and ink of both sides, the back laid anew. */
function settle(work: Work, front: RunRow): void {
  measureLaid(work, front);
  const now = findRun(work.tx, front.id);
  const back = now && relayBack(work, now);
  if (back) measureLaid(work, back);
}

/** Which piece lies behind which; the pieces of *the same picture* are made here. */
function pairsOf(work: Work, rows: readonly PieceRow[], rule: BacksRule): Behind[] {
  switch (rule.kind) {
    case 'every second page':
      return pagePairs(rows);
    case 'the same picture':
      return sameAgain(work, rows);
    case 'other jobs':
      return rule.pairs.flatMap(({ frontJobId, backJobId }) =>
        jobPair(
          rows.filter((row) => row.jobId === frontJobId),
          rows.filter((row) => row.jobId === backJobId),
        ),
      );
  }
}

/** Every second page is the back of the one before it. */
function pagePairs(rows: readonly PieceRow[]): Behind[] {
  const byKey = new Map(rows.map((row) => [keyOf(row, row.page), row]));
  return rows
    .filter((row) => row.page % 2 === 0)
    .map((front) => {
      const back = byKey.get(keyOf(front, front.page + 1));
      if (!back) {
        throw new Refused(
          409,
          'no-back',
          `Page ${String(front.page + 1)} of ${front.sourceName} has no page behind it.`,
          { page: front.page + 1 },
          'Print the same picture on both sides, or take another job as its back.',
        );
      }
      return behind(front, back);
    });
}

function keyOf(row: PieceRow, page: number): string {
  return `${row.jobId}/${String(page)}/${String(row.copy)}/${row.part ?? ''}/${String(row.panel?.no ?? '')}`;
}

/** The back is the front once more: as many pieces of their own, with the same artwork. */
function sameAgain({ tx }: Work, rows: readonly PieceRow[]): Behind[] {
  const made = rows.map(({ pieceId, jobId, page, copy, part, panel }) => ({
    frontId: pieceId,
    back: {
      id: newId('pc'),
      jobId,
      page,
      copy,
      part,
      tile: panel && panel.no - 1,
      side: 'back' as const,
      state: 'owed' as const,
    },
  }));
  for (const batch of batches(made))
    tx.insert(pieces)
      .values(batch.map(({ back }) => back))
      .run();
  return made.map(({ frontId, back }) => ({ frontId, backId: back.id }));
}

/** One job is the back of another, copy by copy. */
function jobPair(fronts: readonly PieceRow[], backs: readonly PieceRow[]): Behind[] {
  const [front, back] = [fronts[0], backs[0]];
  if (!front || !back) throw new Refused(409, 'no-such-job', 'A job that is to be paired has no pieces in this run.');
  if (fronts.length !== backs.length) {
    throw new Refused(
      409,
      'copies-differ',
      `${front.sourceName} has ${counted(fronts.length, 'piece')}, ${back.sourceName} behind it ${String(backs.length)}.`,
      { fronts: fronts.length, backs: backs.length },
      'Give both jobs the same copies.',
    );
  }
  return fronts.map((each, i) => behind(each, backs[i] ?? back));
}

function behind(front: PieceRow, back: PieceRow): Behind {
  if (Math.abs(front.widthMm - back.widthMm) > SAME_MM || Math.abs(front.heightMm - back.heightMm) > SAME_MM) {
    const text = ({ widthMm, heightMm }: PieceRow): string => mmSizeText(widthMm, heightMm);
    throw new Refused(
      409,
      'sizes-differ',
      `${front.sourceName} is ${text(front)}, ${back.sourceName} behind it ${text(back)}.`,
      { front: front.widthMm, back: back.widthMm },
      'Make both the same size in their tickets.',
    );
  }
  return { frontId: front.pieceId, backId: back.pieceId };
}

function moveToBack({ tx }: Work, runId: string, backRunId: string, list: readonly Behind[]): void {
  for (const batch of batches(list)) {
    const ids = batch.map(({ backId }) => backId);
    tx.delete(runPieces)
      .where(and(eq(runPieces.runId, runId), inArray(runPieces.pieceId, ids)))
      .run();
    tx.insert(runPieces)
      .values(batch.map(({ frontId, backId }) => ({ runId: backRunId, pieceId: backId, frontPieceId: frontId })))
      .run();
    tx.update(pieces).set({ runId: backRunId, state: 'placed' }).where(inArray(pieces.id, ids)).run();
  }
}

/** What the backs leave behind is no layout: the fronts are nested again, but for those that are locked. */
function unplace({ tx }: Work, runId: string): void {
  tx.update(runPieces)
    .set({ placed: false })
    .where(and(eq(runPieces.runId, runId), eq(runPieces.locked, false)))
    .run();
}

/** Changes how the back follows: turn, content, offsets. */
export function changeSides(shop: Shop, runId: string, settings: SideSettings): void {
  transact(shop, (work) => {
    const { tx } = work;
    const run = draftRow(work.tx, runId, 'changed');
    const other = run.pairId === null ? undefined : otherSide(tx, run.pairId, run.id);
    if (!run.side || !other?.side) throw new Refused(409, 'one-sided', `${runName(run.number)} has one side only.`);
    for (const each of [run, other]) {
      if (!each.side) continue;
      tx.update(runs)
        .set({ side: { ...each.side, ...settings } })
        .where(eq(runs.id, each.id))
        .run();
      work.touch({ type: 'run', id: each.id });
    }
    const frontId = run.side.side === 'front' ? run.id : other.id;
    const front = findRun(tx, frontId);
    if (front) settle(work, front);
  });
}

/** Gives the back up: its pieces come back to the front's run, those that were made for it go. */
export function oneSideOnly(shop: Shop, runId: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { tx } = work;
    const run = draftRow(work.tx, runId, 'changed');
    const other = run.pairId === null ? undefined : otherSide(tx, run.pairId, run.id);
    if (!run.side || !other) throw new Refused(409, 'one-sided', `${runName(run.number)} has one side only.`);
    const [front, back] = run.side.side === 'front' ? [run, other] : [other, run];
    const jobIds = [...jobsOfRun(work, front.id), ...jobsOfRun(work, back.id)];
    dropBackPieces(work, back.id);
    const kept = tx.select({ pieceId: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, back.id)).all();
    transitionRun(work, back.id, 'dissolve', { endedMs: work.nowMs, reason: 'one side only' });
    for (const batch of batches(kept)) {
      const ids = batch.map(({ pieceId }) => pieceId);
      tx.delete(runPieces)
        .where(and(eq(runPieces.runId, back.id), inArray(runPieces.pieceId, ids)))
        .run();
      tx.insert(runPieces)
        .values(ids.map((pieceId) => ({ runId: front.id, pieceId })))
        .run();
      tx.update(pieces).set({ runId: front.id }).where(inArray(pieces.id, ids)).run();
    }
    const alone = tx.update(runs).set({ pairId: null, side: null }).where(eq(runs.id, front.id)).returning().get();
    tx.update(runs).set({ pairId: null, side: null }).where(eq(runs.id, back.id)).run();
    measureLaid(work, alone);
    updateJobStates(work, jobIds);
    work.note({
      kind: 'run.one-sided',
      subject: ['run', front.id],
      actor,
      data: { run: front.number },
    });
    work.touch({ type: 'run', id: front.id });
    return front.id;
  });
}

/** Pieces that were made for a back go with it, unless they are printed. */
export function dropBackPieces({ tx }: Work, backRunId: string): void {
  const own = tx.select({ id: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, backRunId));
  tx.delete(pieces)
    .where(and(inArray(pieces.id, own), eq(pieces.side, 'back'), inArray(pieces.state, ['owed', 'placed'])))
    .run();
}

/** A person says that the media with the printed front is loaded, turned over: only then the back may start. */
export function confirmBack(shop: Shop, runId: string, spoolId: string, actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const run = findRun(tx, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (run.side?.side !== 'back' || run.pairId === null) {
      throw new Refused(409, 'no-back', `${runName(run.number)} is no back side.`);
    }
    const front = otherSide(tx, run.pairId, run.id);
    if (front?.state !== 'printed') {
      const name = front ? `${runName(front.number)} is ${front.state}` : 'its front is gone';
      throw new Refused(409, 'front-first', `${runName(run.number)} can't start before its front is printed: ${name}.`);
    }
    if (run.state !== 'queued') {
      throw new Refused(409, 'wrong-state', `${runName(run.number)} is ${run.state}; there is nothing to confirm.`);
    }
    const named = tx.select().from(spools).where(eq(spools.id, spoolId)).get();
    const printed = tx
      .select()
      .from(spools)
      .where(eq(spools.id, front.spoolId ?? ''))
      .get();
    if (named?.id !== printed?.id || named?.printerId !== run.printerId) {
      throw new Refused(
        409,
        'wrong-spool',
        `The front is on ${printed?.label ?? 'another spool'}; ${named?.label ?? 'this'} is ${named?.printerId === run.printerId ? 'another one' : 'not in the printer'}.`,
        undefined,
        `Load ${printed?.label ?? 'the spool with the front'}, turned ${run.side.turn}.`,
      );
    }
    tx.update(runs)
      .set({ side: { ...run.side, confirmedMs: work.nowMs } })
      .where(eq(runs.id, runId))
      .run();
    work.note({
      kind: 'run.back-confirmed',
      subject: ['run', runId],
      actor,
      data: { run: front.number, spool: printed?.label ?? null, turn: run.side.turn },
    });
    work.touch({ type: 'run', id: runId }, { type: 'printer', id: run.printerId });
  });
  shop.wakeDispatcher();
}
