import { timer, type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray, lte, max } from 'drizzle-orm';
import { setHere } from '../../../core/ticket/ticket.ts';
import { keepUntilMs } from '../../../core/ticket/keepRule.ts';
import { partsOf } from '../../../core/ticket/parts.ts';
import { pieceOutcomes } from '../../db/tables/records.ts';
import { batches } from '../../db/batches.ts';
import { runName } from '../../../core/flow/runName.ts';
import { jobPages, jobs, pieces, runs } from '../../db/tables/schema.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { jobRow } from '../ticket/changeJobs.ts';
import { updateJobStates } from '../ticket/jobStates.ts';
import { addOutstandingPieces, panelCount, pieceKinds } from '../ticket/outstandingPieces.ts';

type JobRow = typeof jobs.$inferSelect;

const KEPT = ['printed', 'shelved'] as const;

/** Prints a kept job again, as it was: so many copies more, with the same ticket. */
export function printAgain(shop: Shop, jobId: string, copies: number, actor: Actor): void {
  transact(shop, (work) => {
    const job = keptJob(work, jobId);
    const { tx } = work;
    const pages = tx.select().from(jobPages).where(eq(jobPages.jobId, jobId)).orderBy(jobPages.page).all();
    const last = tx
      .select({ copy: max(pieces.copy) })
      .from(pieces)
      .where(eq(pieces.jobId, jobId))
      .get();
    const from = (last?.copy ?? -1) + 1;
    const parts = partsOf(job.ticket.values.separations, job.nature?.spots ?? []);
    const kinds = pieceKinds(
      pages.map((page) => panelCount(page.finished)),
      parts,
    );
    addOutstandingPieces(work, jobId, kinds, from, from + copies);
    // The ticket says how many there are in all, so that the job's figures stay true.
    const ticket = setHere(job.ticket, { copies: from + copies });
    returnFromShelf(work, job, { ticket });
    work.note({
      kind: 'job.again',
      subject: ['job', jobId],
      actor,
      data: { file: job.sourceName, copies },
    });
  });
}

/** Pieces that came out of the printer and are of no use: each is owed once more, the spoiled one stays on record. */
export function spoilPieces(shop: Shop, jobId: string, pieceIds: readonly string[], actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const job = keptJob(work, jobId, ['ready', 'placed', 'printing', 'printed', 'shelved']);
    const rows = batches(pieceIds).flatMap((ids) =>
      tx
        .select()
        .from(pieces)
        .where(and(inArray(pieces.id, ids), eq(pieces.jobId, jobId)))
        .all(),
    );
    const wrong = rows.find((piece) => piece.state !== 'printed');
    if (wrong || rows.length < new Set(pieceIds).size) {
      throw new Refused(409, 'not-printed', `Only pieces of ${job.sourceName} that are printed can be spoiled.`);
    }
    for (const piece of rows) {
      tx.update(pieces).set({ state: 'spoiled' }).where(eq(pieces.id, piece.id)).run();
      recordSpoiled(work, piece);
      tx.insert(pieces)
        .values({ ...piece, id: newId('pc'), state: 'owed', runId: null })
        .run();
    }
    returnFromShelf(work, job, {});
    work.note({
      kind: 'job.spoiled',
      subject: ['job', jobId],
      actor,
      data: { file: job.sourceName, pieces: rows.length },
    });
  });
}

/** A kept job opened for change: a new job with the same file and ticket; the old one stays as it was. */
export function openAsNew(shop: Shop, jobId: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { tx, nowMs } = work;
    const job = jobRow(tx, jobId);
    if (job.sha256 === null || job.state === 'dropped') {
      throw new Refused(409, 'no-file', `The file of ${job.sourceName} is no longer kept.`);
    }
    const id = newId('job');
    const { seq: _seq, ...row } = job;
    const blocked = job.findings.some((finding) => finding.severity === 'block');
    tx.insert(jobs)
      .values({
        ...row,
        id,
        claimId: null,
        hotFolderId: null,
        state: blocked ? 'blocked' : 'ready',
        arrivedMs: nowMs,
        keepDueMs: null,
      })
      .run();
    const pages = tx.select().from(jobPages).where(eq(jobPages.jobId, jobId)).orderBy(jobPages.page).all();
    for (const page of pages) {
      tx.insert(jobPages)
        .values({ ...page, jobId: id })
        .run();
    }
    const kinds = pieceKinds(
      pages.map((page) => panelCount(page.finished)),
      partsOf(job.ticket.values.separations, job.nature?.spots ?? []),
    );
    addOutstandingPieces(work, id, kinds, 0, job.ticket.values.copies);
    work.touch({ type: 'job', id });
    work.note({
      kind: 'job.opened-anew',
      subject: ['job', id],
      actor,
      data: { file: job.sourceName },
    });
    return id;
  });
}

function recordSpoiled({ tx, nowMs }: Work, { id, jobId, runId }: typeof pieces.$inferSelect): void {
  if (runId === null) return;
  const attempt = tx.select({ attempt: runs.attempt }).from(runs).where(eq(runs.id, runId)).get()?.attempt ?? 1;
  tx.insert(pieceOutcomes).values({ pieceId: id, jobId, runId, attempt, outcome: 'spoiled', atMs: nowMs }).run();
}

/** The job, where its state allows to print it again. */
function keptJob(work: Work, jobId: string, states: readonly string[] = KEPT): JobRow {
  const job = jobRow(work.tx, jobId);
  if (!states.includes(job.state)) {
    throw new Refused(
      409,
      'wrong-state',
      `${job.sourceName} is ${job.state}; only what is printed and kept is printed again.`,
      {
        state: job.state,
      },
    );
  }
  return job;
}

function returnFromShelf(work: Work, job: JobRow, change: Partial<JobRow>): void {
  const state = job.state === 'shelved' ? 'printed' : job.state;
  work.tx
    .update(jobs)
    .set({ ...change, state })
    .where(eq(jobs.id, job.id))
    .run();
  updateJobStates(work, [job.id]);
}

/** Jobs that are looked at in one go; the rest at the next. */
const LOOKED_AT = 200;

/**
 * Does with printed jobs what their keep rules say. Each job carries the instant at which it has to be looked at next, so that
 * a look reads those alone that are due, whatever the shop has printed in its life.
 */
export function applyKeepRules(shop: Shop): void {
  const now = shop.clock.now();
  const due = shop.db.select().from(jobs).where(lte(jobs.keepDueMs, now)).limit(LOOKED_AT).all();
  for (const job of due) {
    const printedMs = shop.db
      .select({ ms: max(runs.endedMs) })
      .from(pieces)
      .innerJoin(runs, eq(runs.id, pieces.runId))
      .where(and(eq(pieces.jobId, job.id), eq(pieces.state, 'printed')))
      .get()?.ms;
    if (!isKept(job.state) || printedMs == null) {
      lookAgain(shop, job, null);
      continue;
    }
    const { shelveMs, dropMs } = keepUntilMs(job.ticket.values.keep, printedMs);
    if (dropMs !== null && now >= dropMs) moveKept(shop, job, 'dropped', null);
    else if (job.state === 'printed' && now >= shelveMs) moveKept(shop, job, 'shelved', dropMs);
    else lookAgain(shop, job, job.state === 'printed' ? Math.min(shelveMs, dropMs ?? shelveMs) : dropMs);
  }
}

function isKept(state: JobRow['state']): boolean {
  return (KEPT as readonly string[]).includes(state);
}

function lookAgain({ db }: Shop, { id, state }: JobRow, keepDueMs: number | null): void {
  db.update(jobs)
    .set({ keepDueMs })
    .where(and(eq(jobs.id, id), eq(jobs.state, state)))
    .run();
}

/** Moves a kept job on by its keep rule; where somebody else has moved it meanwhile nothing happens. */
function moveKept(shop: Shop, job: JobRow, state: 'shelved' | 'dropped', keepDueMs: number | null): void {
  transact(shop, (work) => {
    const moved = work.tx
      .update(jobs)
      .set({ state, keepDueMs })
      .where(and(eq(jobs.id, job.id), eq(jobs.state, job.state)))
      .run().changes;
    if (moved === 0) return;
    work.touch({ type: 'job', id: job.id });
    work.note({
      kind: `job.${state}`,
      subject: ['job', job.id],
      actor: timer('keep-rule', 'keep rule'),
      data: { file: job.sourceName },
      quiet: true,
    });
  });
}

/** The pieces of a job that are printed, with the run that printed each, to choose the spoiled ones from. */
export function printedPieces(shop: Shop, jobId: string) {
  const { id } = jobRow(shop.db, jobId);
  return shop.db
    .select({ piece: pieces, runId: runs.id, number: runs.number })
    .from(pieces)
    .innerJoin(runs, eq(runs.id, pieces.runId))
    .where(and(eq(pieces.jobId, id), eq(pieces.state, 'printed'), eq(pieces.side, 'front')))
    .orderBy(pieces.page, pieces.copy, pieces.tile)
    .all()
    .map(({ piece, runId, number }) => ({
      pieceId: piece.id,
      page: piece.page,
      copy: piece.copy,
      part: piece.part,
      panel: piece.tile === null ? null : piece.tile + 1,
      runId,
      runName: runName(number),
    }));
}
