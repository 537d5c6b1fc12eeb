import { and, eq, inArray, isNotNull } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { dotsMl } from '../../../core/coats/dropSizes.ts';
import { PROGRAM } from '../../../core/events/actor.ts';
import { findRun } from '../../db/findRows.ts';
import { runs } from '../../db/tables/schema.ts';
import type { CoatOrder } from '../../render/channels/renderPart.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import { evenInkOfRun, inkOfRun, laidPieces } from '../layout/measureRun.ts';
import { printerOf } from '../run/runRows.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** Runs whose figures are still plans: what has been sent keeps those that it was sent with. */
const PLANNED = ['draft', 'queued'] as const;

/** What was counted of a coat, and the run as it was when its rendering was ordered. */
export interface CountedCoat {
  readonly order: CoatOrder;
  readonly version: number;
  /** Of each channel: dots of each level. */
  readonly dots: readonly (readonly number[])[];
}

/**
 * Puts what was counted dot by dot in place of a run's estimate of ink. A run that was laid out anew or sent meanwhile keeps what it has.
 * Channels that are not rendered keep their estimate.
 */
export function keepCounts(shop: Shop, runId: string, { order, version, dots }: CountedCoat): void {
  const isMeant = (run: RunRow | undefined): run is RunRow =>
    run?.version === version &&
    run.pdfKey === order.pdfKey &&
    run.inkRendering !== order.key &&
    PLANNED.some((state) => state === run.state);
  if (!isMeant(findRun(shop.db, runId))) return;
  transact(shop, (work) => {
    const run = findRun(work.tx, runId);
    if (!isMeant(run)) return;
    const { config } = printerOf(work.tx, run);
    const counted = countedMl(order, dots, config);
    const evenMl =
      run.evenMl &&
      Object.fromEntries(
        Object.entries(run.evenMl).map(([id, ml]) => {
          const before = run.inkMl[id] ?? 0;
          return [id, before > 0 ? (ml * (counted[id] ?? before)) / before : ml];
        }),
      );
    work.tx
      .update(runs)
      .set({ inkMl: { ...run.inkMl, ...counted }, inkRendering: order.key, evenMl })
      .where(eq(runs.id, runId))
      .run();
    work.touch({ type: 'run', id: runId });
    const sum = (inkMl: Readonly<Record<string, number>>): number =>
      Object.values(inkMl).reduce((all, ml) => all + ml, 0);
    work.note({
      kind: 'run.counted',
      subject: ['run', runId],
      actor: PROGRAM,
      data: { run: run.number, ml: sum({ ...run.inkMl, ...counted }), estimateMl: sum(run.inkMl) },
    });
  });
}

/** Ink of a rendered coat by channel (ml). */
export function countedMl(
  { channels, drops }: Pick<CoatOrder, 'channels' | 'drops'>,
  dots: readonly (readonly number[])[],
  config: PrinterConfig,
): Record<string, number> {
  return Object.fromEntries(
    channels.map((id, i) => {
      const heads = config.channels.find((channel) => channel.id === id)?.heads ?? 1;
      return [id, dotsMl(dots[i] ?? [], drops, 1, heads)];
    }),
  );
}

/**
 * Puts the estimate back where what was counted no longer holds, because a mode or a profile has changed.
 * @param isStale whether a run, on its printer, is one of those
 */
export function forgetCounts({ tx, touch }: Work, isStale: (run: RunRow, config: PrinterConfig) => boolean): void {
  const rows = tx
    .select()
    .from(runs)
    .where(and(inArray(runs.state, [...PLANNED]), isNotNull(runs.inkRendering)))
    .all();
  for (const run of rows) {
    const { config } = printerOf(tx, run);
    if (!isStale(run, config)) continue;
    const laid = laidPieces(tx, run.id);
    tx.update(runs)
      .set({ inkMl: inkOfRun(run, config, laid), evenMl: evenInkOfRun(run, config, laid), inkRendering: null })
      .where(eq(runs.id, run.id))
      .run();
    touch({ type: 'run', id: run.id });
  }
}
