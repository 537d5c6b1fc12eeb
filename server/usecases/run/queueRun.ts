import { findRun } from '../../db/findRows.ts';
import { nextPosition, printerOf, sidesOf } from './runRows.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray, ne } from 'drizzle-orm';
import { runs } from '../../db/tables/schema.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { neededMm } from '../../../core/stock/need.ts';
import { feedingOf } from '../../db/feeding.ts';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { isBack } from '../layout/relayBack.ts';
import { mustBePrintable } from '../layout/layOutRun.ts';
import { type RunRow, transitionRun } from './transitionRun.ts';
import { metresText } from '../../../core/units/lengthText.ts';

/** A draft joins the end of its printer's line; where it has a back, that follows it. */
export function queueRun(shop: Shop, runId: string, actor: Actor): void {
  transact(shop, (work) => {
    for (const id of sidesOf(work, runId)) queueOne(work, id, actor);
  });
  shop.wakeDispatcher();
}

/** Says that segments were queued together, so that one step takes them all back. */
export function noteSeriesQueued(shop: Shop, ids: readonly string[], actor: Actor): void {
  transact(shop, (work) => {
    const [first] = ids;
    const run = first === undefined ? undefined : findRun(work.tx, first);
    if (!run?.seriesId || ids.length < 2) return;
    work.note({
      kind: 'series.queued',
      subject: ['run', run.id],
      actor,
      data: { runs: ids.length, printer: printerOf(work.tx, run).name },
      undo: { label: 'Take all back', method: 'POST', path: `/api/series/${run.seriesId}/take-back` },
    });
  });
}

/** Queues one run at the end of its line, and notes it. */
function queueOne(work: Work, runId: string, actor: Actor): void {
  const { tx } = work;
  const run = transitionRun(work, runId, 'queue', { position: nextPosition(tx), goAtMs: null });
  mustBePrintable(work, run);
  // A back is printed on what its front has fed.
  if (!isBack(run)) mustHaveMedia(work, run);
  const printer = printerOf(work.tx, run);
  work.note({
    kind: 'run.queued',
    subject: ['run', runId],
    actor,
    data: { run: run.number, printer: printer.name, lengthMm: run.lengthMm, back: isBack(run) },
    undo: { label: 'Take back', method: 'POST', path: `/api/runs/${runId}/take-back` },
  });
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
    `${spool?.label ?? 'The spool'} has ${metresText(left)} left after the runs ahead; this run takes ${metresText(needed)}, and no spool on the rack holds that.`,
    { leftMm: left, neededMm: needed },
    'Bring in another spool, or take pieces out of the run.',
  );
}
