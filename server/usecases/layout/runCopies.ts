import { findRun } from '../../db/findRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { setHere } from '../../../core/ticket/ticket.ts';
import { jobPages, pieces, runPieces } from '../../db/tables/schema.ts';
import { runName } from '../../../core/flow/runName.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { partsOf } from '../../../core/ticket/parts.ts';
import { type JobRow, changeOne, jobRow } from '../ticket/changeJobs.ts';
import { assignPieces } from '../run/pieces.ts';
import { updateJobStates } from '../ticket/jobStates.ts';
import { measureLaid } from './layOutRun.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { panelCount, pieceKinds } from '../ticket/outstandingPieces.ts';
import { TicketService } from '../ticket/ticketService.ts';

/**
 * Sets how many copies of a job a draft holds, as a width or a length is filled. What the job still owes is taken first;
 * more than that raises its copies. What is too many is owed again and waits.
 */
export function setRunCopies(shop: Shop, runId: string, jobId: string, copies: number, actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const run = findRun(tx, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    mustBeOwnDraft(run);
    const job = jobRow(tx, jobId);
    mustBeOnePiece(work, job);
    const held = tx
      .select({ id: pieces.id, locked: runPieces.locked })
      .from(runPieces)
      .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
      .where(and(eq(runPieces.runId, runId), eq(pieces.jobId, jobId)))
      .orderBy(asc(runPieces.locked), desc(pieces.copy))
      .all();
    if (held.length === 0) throw new Refused(409, 'not-in-run', `${job.sourceName} is not in ${runName(run.number)}.`);
    const more = copies - held.length;
    if (more === 0) return;
    let beyond = 0;
    if (more > 0) beyond = assignMorePieces(work, run, job, more);
    else giveBack(work, run, job, held, -more);
    work.note({
      kind: 'run.copies',
      subject: ['run', runId],
      actor,
      data: { run: run.number, pieces: more, file: job.sourceName, order: beyond > 0 ? { beyond } : null },
    });
    work.touch({ type: 'run', id: runId });
  });
}

/** Copies can be added to or taken from a plain draft only: segments and sides depend on one another. */
function mustBeOwnDraft(run: RunRow): void {
  const name = runName(run.number);
  if (run.state !== 'draft')
    throw new Refused(409, 'wrong-state', `${name} is ${run.state}; only a draft can be filled.`);
  if (run.side) throw new Refused(409, 'two-sided', `${name} has two sides; its pieces stay as they are.`);
  if (run.seriesId !== null) {
    throw new Refused(
      409,
      'a-segment',
      `${name} is a segment; its pieces stay as they are.`,
      undefined,
      'Join the segments first.',
    );
  }
}

/** A copy that is several pages, panels or separations fills no row by itself. */
function mustBeOnePiece({ tx }: Work, job: JobRow): void {
  const pages = tx.select().from(jobPages).where(eq(jobPages.jobId, job.id)).all();
  const parts = partsOf(job.ticket.values.separations, job.nature?.spots ?? []);
  const each = pieceKinds(
    pages.map((page) => panelCount(page.finished)),
    parts,
  ).length;
  if (each !== 1) {
    throw new Refused(
      409,
      'many-pieces',
      `A copy of ${job.sourceName} is ${String(each)} pieces; only copies of one piece can fill a length.`,
      { pieces: each },
      'Set its copies in its ticket.',
    );
  }
}

/** @returns how many of them nobody had ordered */
function assignMorePieces(work: Work, run: RunRow, job: JobRow, more: number): number {
  const { tx } = work;
  const outstandingRows = () =>
    tx
      .select({ id: pieces.id, jobId: pieces.jobId })
      .from(pieces)
      .where(and(eq(pieces.jobId, job.id), eq(pieces.state, 'owed')))
      .orderBy(asc(pieces.copy))
      .all();
  const lacking = more - outstandingRows().length;
  if (lacking > 0) {
    const copies = job.ticket.values.copies + lacking;
    if (copies > MOST_COPIES) {
      throw new Refused(
        409,
        'too-many',
        `${job.sourceName} would have ${String(copies)} copies; ${String(MOST_COPIES)} is the limit.`,
        { copies, limit: MOST_COPIES },
        'Fill a shorter length.',
      );
    }
    const raise = (_desk: TicketService, row: JobRow) => ({
      ticket: setHere(row.ticket, { copies }),
      queueId: row.queueId,
    });
    changeOne(work, new TicketService(tx), job, raise, newId('chg'));
  }
  assignPieces(work, run.id, outstandingRows().slice(0, more));
  return Math.max(0, lacking);
}

/** As a ticket may say. */
const MOST_COPIES = 10_000;

function giveBack(
  work: Work,
  run: RunRow,
  job: JobRow,
  held: readonly { readonly id: string; readonly locked: boolean }[],
  fewer: number,
): void {
  const { tx } = work;
  if (fewer >= held.length) {
    throw new Refused(
      409,
      'empty',
      `Nothing of ${job.sourceName} would be left.`,
      undefined,
      'Dissolve the run instead.',
    );
  }
  const out = held.slice(0, fewer).map((piece) => piece.id);
  tx.delete(runPieces)
    .where(and(eq(runPieces.runId, run.id), inArray(runPieces.pieceId, out)))
    .run();
  tx.update(pieces).set({ state: 'owed', runId: null }).where(inArray(pieces.id, out)).run();
  updateJobStates(work, [job.id]);
  measureLaid(work, run);
}
