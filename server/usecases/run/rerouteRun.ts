import { findPrinter } from '../../db/findRows.ts';
import { fitsFor, fitJob, pagesOf, readFloor } from '../plan/fit.ts';
import { type RunHow, stepOf } from '../../ports/work.ts';
import { type FitAsk, type FitWork } from '../plan/fitWork.ts';
import { type Floor, queueFor } from '../plan/plannedFloor.ts';
import { newRun } from './newRun.ts';
import { runRow } from './runRows.ts';
import { PROGRAM, type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray } from 'drizzle-orm';
import type { MoveOffer } from '../../../contract/api/shop.ts';
import { setHere } from '../../../core/ticket/ticket.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import { batches } from '../../db/batches.ts';
import { runName } from '../../../core/flow/runName.ts';
import { outstandingPieceRows, runPieceRows } from '../../db/runViews.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { jobs, pieces, queues } from '../../db/tables/schema.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { anewFor, changeOne } from '../ticket/changeJobs.ts';
import { assignPieces, releasePieces } from './pieces.ts';
import { jobsOfRun } from '../ticket/jobStates.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { queuedLine, setLineOrder } from '../plan/lineOrder.ts';
import { type RunRow, transitionRun } from './transitionRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { ensurePrintable } from '../output/ensurePrintable.ts';
import { runMedia } from './runMedia.ts';
import { queueRun } from './queueRun.ts';
import { TicketService } from '../ticket/ticketService.ts';

const NEST_MS = 600;

/** What the pieces of a run ask for, wherever they lie now. */
function workOfRun(shop: Shop, run: RunRow): FitWork {
  const { db } = shop;
  const rows = runPieceRows(db, run.id);
  const jobIds = [...new Set(rows.map(({ jobId }) => jobId))];
  const jobRows = db.select().from(jobs).where(inArray(jobs.id, jobIds)).all();
  const own = jobRows.map((job) => ({
    ...fitJob(job),
    // The run's values hold for it, whatever its jobs say now.
    ticket: { ...job.ticket, values: { ...job.ticket.values, stockId: run.ticket.stockId, modeId: run.ticket.modeId } },
  }));
  const placed = rows.map(({ pageRow, ticket, ...piece }) => ({
    ...piece,
    ...ticket.values,
    outline: pageRow.finished?.contour?.outline,
    turnEverySecond: ticket.values.tiles?.turnEverySecond ?? false,
  }));
  return { jobs: own, pieces: placed, ...pagesOf(db, jobIds) };
}

/** A run as a question to the fit list: as if it were not in its line. */
export function fitAskOfRun(shop: Shop, run: RunRow): FitAsk {
  return { work: workOfRun(shop, run), exceptRunId: run.id };
}

/** The fit list of a run: printers that could take it in place of its own. */
export async function fitsOfRun(
  shop: Shop,
  runId: string,
  floor: Floor = readFloor(shop),
  how?: RunHow,
): Promise<Fit[]> {
  const [fits = []] = await fitsFor(shop, floor, [fitAskOfRun(shop, runRow(shop.db, runId))], how);
  return fits;
}

/** What a move to another printer would change, before anything is moved. */
export async function moveOffer(shop: Shop, runId: string, printerId: string, how: RunHow = {}): Promise<MoveOffer> {
  return offerOf(runRow(shop.db, runId), await fitsOfRun(shop, runId, readFloor(shop), how), printerId);
}

/** What a move would change, from the two fits; figures that are not known stay out. */
function offerOf(run: RunRow, fits: readonly Fit[], printerId: string): MoveOffer {
  const there = fits.find((fit) => fit.printerId === printerId);
  const here = fits.find((fit) => fit.printerId === run.printerId);
  const figures = (fit: Fit | undefined): MoveOffer['after'] =>
    fit?.can === true
      ? { lengthMm: fit.lengthMm, timeMs: fit.timeMs, totalMinor: fit.totalMinor, endMs: fit.endMs, lateMs: fit.lateMs }
      : null;
  const stays = movable(run);
  const troubles = [
    ...(stays === null ? [] : [stays]),
    ...(there?.can === false ? there.troubles : []),
    ...(there ? [] : [{ code: 'printer', text: 'There is no such printer', way: 'Choose another.' }]),
  ];
  return {
    runId: run.id,
    printerId,
    can: troubles.length === 0,
    troubles: troubles.map((trouble) => ({ ...trouble })),
    before: figures(here),
    after: figures(there),
  };
}

/** Why a run stays where it is, whatever the printers can; null: it may be moved. */
function movable(run: RunRow): { readonly code: string; readonly text: string; readonly way: string } | null {
  const name = runName(run.number);
  if (run.state !== 'queued' && run.state !== 'draft') {
    return { code: 'state', text: `${name} is ${run.state}`, way: 'Only what is queued or a draft can be moved.' };
  }
  if (run.side)
    return { code: 'two-sided', text: `${name} has two sides`, way: 'Give its back up first, then move it.' };
  return null;
}

/**
 * Moves a run to another printer: what is right there is taken anew, it is laid out for that printer's width and queued in
 * its line. The run that was ends as *moved*; its pieces are never in two runs. Where it can't be queued in the end it waits
 * on the Bench, and the wire says why.
 * @param before the run before which it goes; null: at the end
 * @returns the id of the run that it is now
 */
export async function rerouteRun(
  shop: Shop,
  runId: string,
  printerId: string,
  before: string | null,
  actor: Actor,
  how: RunHow = {},
): Promise<string> {
  const floor = readFloor(shop);
  const was = runRow(shop.db, runId);
  const fits = await fitsOfRun(shop, runId, floor, stepOf(how, 0, 0.3));
  const [trouble] = offerOf(was, fits, printerId).troubles;
  if (trouble) throw new Refused(409, trouble.code, `${trouble.text}.`, undefined, trouble.way);
  const fit = fits.find((each) => each.printerId === printerId);
  const modeId = fit?.can === true ? fit.modeId : was.ticket.modeId;
  const id = transact(shop, (work) => takeOver(work, floor, was, printerId, modeId, actor));
  // From here on it is taken to its end, whoever has lost interest: a run must not stay between two printers.
  const rest = stepOf({ progress: how.progress }, 0.3, 1);
  if (was.state === 'draft') {
    layOutRun(shop, id, await nestDraft(shop, id, NEST_MS, rest), { by: PROGRAM });
    return id;
  }
  await layAndQueue(shop, id, before, actor, rest);
  return id;
}

/** Nests a new draft, queues it, and puts it before another in the line. Where that fails the draft stays. */
export async function layAndQueue(
  shop: Shop,
  id: string,
  before: string | null,
  actor: Actor,
  how: RunHow = {},
): Promise<void> {
  layOutRun(shop, id, await nestDraft(shop, id, NEST_MS, stepOf(how, 0, 0.5)), { by: PROGRAM });
  await ensurePrintable(shop, id, stepOf(how, 0.5, 1));
  queueRun(shop, id, actor);
  if (before === null) return;
  const line = queuedLine(shop.db, runRow(shop.db, id).printerId).map((run) => run.id);
  const rest = line.filter((each) => each !== id);
  const at = rest.indexOf(before);
  if (at >= 0) setLineOrder(shop, runRow(shop.db, id).printerId, [...rest.slice(0, at), id, ...rest.slice(at)], actor);
}

/**
 * Brings a queued run back to the printer and the mode that it was moved from, without asking whether it fits there: it did.
 * @returns the id of the run that it is now
 */
export async function moveBack(
  shop: Shop,
  runId: string,
  { printerId, modeId }: { readonly printerId: string; readonly modeId: string },
  actor: Actor,
): Promise<string> {
  const floor = readFloor(shop);
  const id = transact(shop, (work) => takeOver(work, floor, runRow(work.tx, runId), printerId, modeId, actor));
  await layAndQueue(shop, id, null, actor);
  return id;
}

/** Makes the run that takes the place of another: its pieces go over in this transaction, so they are never in two runs. */
function takeOver(work: Work, floor: Floor, was: RunRow, printerId: string, modeId: string, actor: Actor): string {
  const { tx, nowMs } = work;
  const printer = findPrinter(tx, printerId);
  const queueId = queueFor(floor, printerId, was.ticket.stockId);
  if (!printer || queueId === undefined) throw new Refused(409, 'queue', 'No queue feeds that printer.');
  const pieceRows = tx
    .select({ id: pieces.id, jobId: pieces.jobId })
    .from(pieces)
    .where(and(eq(pieces.runId, was.id), eq(pieces.state, 'placed')))
    .all();
  const jobIds = jobsOfRun(work, was.id);
  transitionRun(work, was.id, was.state === 'draft' ? 'dissolve' : 'cancel', {
    endedMs: nowMs,
    reason: `moved to ${printer.name}`,
  });
  releasePieces(work, was.id);
  const ticket = moveJobs(work, jobIds, queueId, { stockId: was.ticket.stockId, modeId });
  const { id } = runInPlaceOf(work, { madeBy: 'moved', was, printer, queueId, ticket });
  for (const batch of batches(pieceRows)) assignPieces(work, id, batch);
  work.note({
    kind: 'run.moved',
    subject: ['run', id],
    actor,
    data: { run: was.number, printer: printer.name },
  });
  work.touch({ type: 'run', id });
  return id;
}

/** Jobs move with the run where nothing holds them; the others keep their queue. @returns the values for the run */
function moveJobs(
  work: Work,
  jobIds: readonly string[],
  queueId: string,
  own: { readonly stockId: string; readonly modeId: string },
): RunRow['ticket'] {
  const { tx } = work;
  const desk = new TicketService(tx);
  const changeId = newId('chg');
  let values: RunRow['ticket'] | undefined;
  for (const jobId of jobIds) {
    const job = tx.select().from(jobs).where(eq(jobs.id, jobId)).get();
    if (!job) continue;
    // It is the same work on the same stock, whatever the other queue gives to what arrives there.
    const ticket = anewFor(desk, setHere(anewFor(desk, job.ticket, queueId), own), queueId);
    values ??= ticket.values;
    try {
      tx.transaction((inner) => changeOne({ ...work, tx: inner }, desk, job, () => ({ ticket, queueId }), changeId));
    } catch (error) {
      // Pieces of it are in another run: it stays in its queue, this run is another printer's all the same.
      if (!(error instanceof Refused)) throw error;
    }
  }
  if (!values) throw new Error('a run without jobs can’t be moved');
  return values;
}

interface Follower {
  readonly madeBy: 'moved' | 'rest';
  readonly was: RunRow;
  readonly printer: typeof printers.$inferSelect;
  readonly queueId: string;
  readonly ticket: RunRow['ticket'];
}

/** A draft for another printer with what a person had set on the run that it follows. */
export function runInPlaceOf(work: Work, { madeBy, was, printer, queueId, ticket }: Follower): RunRow {
  const { tx } = work;
  const stock = tx.select().from(stocks).where(eq(stocks.id, ticket.stockId)).get();
  const queue = tx.select().from(queues).where(eq(queues.id, queueId)).get();
  if (!stock || !queue) throw new Error(`stock or queue of ${was.id} is missing`);
  const spool = tx
    .select()
    .from(spools)
    .where(and(eq(spools.printerId, printer.id), eq(spools.stockId, stock.id)))
    .get();
  const owed = [...outstandingPieceRows(tx, jobsOfRun(work, was.id)).values()].flat();
  const { mediaWidthMm, settings } = runMedia(printer.config, stock, spool, queue.gapMm, ticket.edgeToEdge, owed);
  const { marks, order, byContour } = was.settings;
  return newRun(work, {
    madeBy,
    ...(madeBy === 'moved' ? { number: was.number } : {}),
    from: was,
    printerId: printer.id,
    queueId,
    spoolId: spool?.id ?? null,
    settings: {
      ...settings,
      ...(marks ? { marks } : {}),
      ...(order ? { order } : {}),
      ...(byContour === undefined ? {} : { byContour }),
    },
    ticket,
    mediaWidthMm,
    fixedStartMs: was.fixedStartMs,
  });
}
