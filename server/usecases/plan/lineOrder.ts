import { counted } from '../../../core/counted.ts';
import { findPrinter, findRun } from '../../db/findRows.ts';
import type { RunHow } from '../../ports/work.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, asc, eq } from 'drizzle-orm';
import type { OrderProposal } from '../../../contract/api/fit.ts';
import type { Reader } from '../../db/open.ts';
import { runName } from '../../../core/flow/runName.ts';
import { runs } from '../../db/tables/schema.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import type { Floor } from './plannedFloor.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** The queued runs of a printer in the order in which they will be printed. */
export function queuedLine(db: Reader, printerId: string): RunRow[] {
  return db
    .select()
    .from(runs)
    .where(and(eq(runs.printerId, printerId), eq(runs.state, 'queued')))
    .orderBy(asc(runs.position), asc(runs.seq))
    .all();
}

/**
 * Puts the queued runs of a printer into this order. Refused where the line is another than the person saw: a run that was
 * sent or queued meanwhile must not be put somewhere by chance.
 */
export function setLineOrder(shop: Shop, printerId: string, runIds: readonly string[], actor: Actor): void {
  transact(shop, (work) => {
    const line = queuedLine(work.tx, printerId);
    const before = placeLine(work, printerId, runIds);
    if (!before) return;
    const printer = findPrinter(work.tx, printerId);
    const moved = line.find(({ id }, i) => id !== runIds[i] && runIds.indexOf(id) < i);
    work.note({
      kind: 'line.ordered',
      subject: ['printer', printerId],
      actor,
      data: { printer: printer?.name ?? printerId, moved: moved?.number ?? null },
      undo: { label: 'Undo', method: 'PUT', path: `/api/printers/${printerId}/line`, body: { runIds: before } },
    });
  });
  shop.wakeDispatcher();
}

/**
 * Puts a line into an order; part of a transaction of the caller's, which notes it.
 * @returns the order that it had; undefined: it had this one
 */
export function placeLine(work: Work, printerId: string, runIds: readonly string[]): string[] | undefined {
  const { tx } = work;
  const line = queuedLine(tx, printerId);
  const before = line.map(({ id }) => id);
  const same = before.length === runIds.length && new Set([...before, ...runIds]).size === before.length;
  if (!same) {
    throw new Refused(
      409,
      'line-changed',
      `The line has changed meanwhile: ${counted(before.length, 'run')} ${before.length === 1 ? 'is' : 'are'} queued, ${String(runIds.length)} were ordered.`,
      undefined,
      'Look at the line again, then change its order.',
    );
  }
  mustKeepPairs(line, runIds);
  if (before.every((id, i) => id === runIds[i])) return undefined;
  const places = line.map(({ position }) => position).sort((a, b) => a - b);
  // Positions that several share are parted, so that the order is sure.
  const distinct = places.map((place, i) => Math.max(place, (places[0] ?? 0) + i));
  runIds.forEach((id, i) => {
    tx.update(runs)
      .set({ position: distinct[i] ?? i })
      .where(eq(runs.id, id))
      .run();
    work.touch({ type: 'run', id });
  });
  return before;
}

/** A back is printed after its front, whatever else comes between. */
function mustKeepPairs(line: readonly RunRow[], runIds: readonly string[]): void {
  for (const back of line.filter(({ side }) => side?.side === 'back')) {
    const front = line.find((run) => run.pairId === back.pairId && run.id !== back.id);
    if (front && runIds.indexOf(front.id) > runIds.indexOf(back.id)) {
      throw new Refused(
        409,
        'back-first',
        `${runName(back.number)} is the back of ${runName(front.number)}; the front goes first.`,
      );
    }
  }
}

/** Not before this instant; null: whenever its turn comes. */
export function fixStart(shop: Shop, runId: string, fixedStartMs: number | null, actor: Actor): void {
  transact(shop, (work) => {
    const run = findRun(work.tx, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (run.state !== 'queued' && run.state !== 'draft') {
      throw new Refused(
        409,
        'wrong-state',
        `${runName(run.number)} is ${run.state}; its start can't be fixed any more.`,
      );
    }
    work.tx.update(runs).set({ fixedStartMs }).where(eq(runs.id, runId)).run();
    work.touch({ type: 'run', id: runId });
    work.note({
      kind: 'run.start-fixed',
      subject: ['run', runId],
      actor,
      data: { run: run.number, startMs: fixedStartMs },
      undo: {
        label: 'Undo',
        method: 'PUT',
        path: `/api/runs/${runId}/start`,
        body: { fixedStartMs: run.fixedStartMs },
      },
    });
  });
  shop.wakeDispatcher();
}

/** Marks a run as important, or takes the mark off: rules may ask for care before it. */
export function markRun(shop: Shop, runId: string, important: boolean, actor: Actor): void {
  transact(shop, (work) => {
    const run = findRun(work.tx, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (run.important === important) return;
    if (run.state !== 'queued' && run.state !== 'draft') {
      throw new Refused(409, 'wrong-state', `${runName(run.number)} is ${run.state}; it can't be marked any more.`);
    }
    work.tx.update(runs).set({ important }).where(eq(runs.id, runId)).run();
    work.touch({ type: 'run', id: runId });
    work.note({
      kind: 'run.marked',
      subject: ['run', runId],
      actor,
      data: { run: run.number, important },
      undo: {
        label: 'Undo',
        method: 'PUT',
        path: `/api/runs/${runId}/important`,
        body: { important: run.important },
      },
    });
  });
  shop.wakeDispatcher();
}

/** A better order for each printer that has more than one run to order; nothing is changed by asking. */
export async function proposeLines(shop: Shop, floor: Floor, how: RunHow = {}): Promise<OrderProposal[]> {
  const lines = floor.printers
    .filter(({ id }) => floor.runs.filter(({ printerId, state }) => printerId === id && state === 'queued').length > 1)
    .map(({ id, config }) => ({ printerId: id, ratePerHourMinor: config.ratePerHourMinor }));
  const answers = await shop.work.run('orders', { floor, lines, timeLimitMs: ORDER_MS }, how);
  return lines.flatMap(({ printerId }, i) => {
    const answer = answers[i];
    return answer ? [{ printerId, ...answer, order: [...answer.order] }] : [];
  });
}

/** All lines together. */
const ORDER_MS = 2500;
