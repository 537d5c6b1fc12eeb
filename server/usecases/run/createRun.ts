import { findRun } from '../../db/findRows.ts';
import { TICKET_SETTINGS, runWideDifference } from '../../../core/ticket/settings.ts';
import { newRun } from './newRun.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { MAX_NEST_PIECES } from '../../../core/layout/nestInput.ts';
import { jobs, queues, runPieces, runs } from '../../db/tables/schema.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import { runName } from '../../../core/flow/runName.ts';
import { outstandingPieceRows } from '../../db/runViews.ts';
import { choosePrinter } from '../plan/choosePrinter.ts';
import { runMedia } from './runMedia.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { assignPieces, outstandingPiecesOf } from './pieces.ts';

/** Puts everything that jobs still owe into a new draft, on the printer and spool of their queue. */
export function createRun(shop: Shop, jobIds: readonly string[], actor: Actor): string {
  return transact(shop, (work) => {
    const { tx } = work;
    const rows = tx
      .select()
      .from(jobs)
      .where(inArray(jobs.id, [...jobIds]))
      .orderBy(asc(jobs.seq))
      .all();
    const first = rows[0];
    if (rows.length < new Set(jobIds).size || !first)
      throw new Refused(404, 'no-such-job', 'One of the chosen jobs no longer exists.');
    for (const job of rows) mustGoTogether(work, first, job);
    const owed = outstandingPiecesOf(work, jobIds);
    if (owed.length === 0) {
      throw new Refused(409, 'nothing-owed', 'Every piece of these jobs is in a run or printed already.');
    }
    if (owed.length > MAX_NEST_PIECES) {
      throw new Refused(
        409,
        'too-many',
        `These jobs owe ${owed.length} pieces; a run takes ${MAX_NEST_PIECES}.`,
        { owed: owed.length, limit: MAX_NEST_PIECES },
        'Choose fewer jobs, or lower the copies.',
      );
    }
    const queue = tx.select().from(queues).where(eq(queues.id, first.queueId)).get();
    const printer = queue && choosePrinter(shop, work, queue, first.ticket.values.stockId);
    const stock = tx.select().from(stocks).where(eq(stocks.id, first.ticket.values.stockId)).get();
    if (!queue || !printer || !stock) throw new Error(`queue, printer or stock of ${first.id} is missing`);
    const spool = tx
      .select()
      .from(spools)
      .where(and(eq(spools.printerId, printer.id), eq(spools.stockId, stock.id)))
      .get();
    const { config } = printer;
    const run = newRun(work, {
      madeBy: 'from jobs',
      from: null,
      printerId: printer.id,
      queueId: queue.id,
      spoolId: spool?.id ?? null,
      ticket: first.ticket.values,
      ...runMedia(
        config,
        stock,
        spool,
        queue.gapMm,
        first.ticket.values.edgeToEdge,
        [...outstandingPieceRows(tx, jobIds).values()].flat(),
      ),
    });
    const { id } = run;
    assignPieces(work, id, owed);
    work.note({
      kind: 'run.drafted',
      subject: ['run', id],
      actor,
      data: { run: run.number, pieces: owed.length, jobs: rows.length, printer: printer.name },
    });
    work.touch({ type: 'run', id });
    return id;
  });
}

/** Puts what more jobs owe into a draft that has not been laid out by a person. */
export function addJobsToRun(shop: Shop, runId: string, jobIds: readonly string[], actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const run = findRun(tx, runId);
    if (run?.state !== 'draft') throw new Refused(409, 'wrong-state', 'The run is no longer a draft.');
    if (run.side) throw new Refused(409, 'two-sided', `${runName(run.number)} has two sides; no more pieces join it.`);
    const rows = tx
      .select()
      .from(jobs)
      .where(inArray(jobs.id, [...jobIds]))
      .orderBy(asc(jobs.seq))
      .all();
    for (const job of rows) mustGoTogether(work, rows[0] ?? job, job);
    const owed = outstandingPiecesOf(work, jobIds);
    const before = tx.select({ id: runPieces.pieceId }).from(runPieces).where(eq(runPieces.runId, runId)).all().length;
    if (before + owed.length > MAX_NEST_PIECES) {
      throw new Refused(
        409,
        'too-many',
        `${runName(run.number)} would have ${before + owed.length} pieces; a run takes ${MAX_NEST_PIECES}.`,
      );
    }
    assignPieces(work, runId, owed);
    tx.update(runs)
      .set({ version: run.version + 1 })
      .where(eq(runs.id, runId))
      .run();
    work.note({
      kind: 'run.joined',
      subject: ['run', runId],
      actor,
      data: { run: run.number, pieces: owed.length },
    });
    work.touch({ type: 'run', id: runId });
  });
}

/** Jobs share a run where they share a printer and all values that hold for the whole run; else the first that differs is named. */
function mustGoTogether({ tx }: Work, first: typeof jobs.$inferSelect, job: typeof jobs.$inferSelect): void {
  if (job.state === 'blocked') {
    const why = job.findings.find((finding) => finding.severity === 'block')?.text ?? '';
    throw new Refused(409, 'blocked', `${job.sourceName} is blocked. ${why}`.trim(), { jobId: job.id });
  }
  if (!['checked', 'ready', 'placed', 'printing', 'printed'].includes(job.state)) {
    throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}; it can't be laid out.`, {
      jobId: job.id,
      state: job.state,
    });
  }
  if (job.queueId !== first.queueId) {
    // Queues that feed one printer may share a run.
    const apart = tx
      .select()
      .from(queues)
      .where(inArray(queues.id, [first.queueId, job.queueId]))
      .all();
    if (new Set(apart.map((queue) => queue.printerId)).size > 1) {
      throw new Refused(
        409,
        'different-queues',
        `${first.sourceName} and ${job.sourceName} wait for different printers: ${apart.map((queue) => queue.name).join(' and ')}.`,
        undefined,
        'Move them to one queue first: choose them and pick a queue in the ticket.',
      );
    }
  }
  const differing = runWideDifference(first.ticket.values, job.ticket.values);
  if (differing !== undefined) {
    throw new Refused(
      409,
      'run-wide-differs',
      `${first.sourceName} and ${job.sourceName} differ in ${TICKET_SETTINGS[differing].label}; that must be equal in a run.`,
    );
  }
}
