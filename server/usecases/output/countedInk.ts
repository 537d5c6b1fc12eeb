import { and, eq, inArray, isNotNull, or } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { dotsMl } from '../../../core/coats/dropSizes.ts';
import { type SampledInk, sampledWithin } from '../../../core/estimate/inkSample.ts';
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

const NOTHING_FOUND = { inkRendering: null, inkSample: null } as const;

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
  keepInk(shop, runId, {
    isMeant: (run) => isOrdered(run, order, version) && run.inkRendering !== order.key,
    mlOf: (config) => countedMl(order, dots, config),
    found: { inkRendering: order.key, inkSample: null },
    tell: ({ note }, data) => {
      note({ kind: 'run.counted', subject: ['run', runId], actor: PROGRAM, data });
    },
  });
}

/**
 * Puts a sample of its real pixels in place of a run's estimate of ink, unless its dots have been counted; as {@link keepCounts}.
 * @param channels of the coat, in its order
 */
export function keepSample(
  shop: Shop,
  runId: string,
  { order, version }: Pick<CountedCoat, 'order' | 'version'>,
  channels: readonly SampledInk[],
): void {
  keepInk(shop, runId, {
    isMeant: (run) => isOrdered(run, order, version) && run.inkRendering === null && run.inkSample !== order.key,
    mlOf: (config) => sampledMl(order, channels, config),
    found: { inkSample: order.key },
    tell: ({ note }, figures) => {
      const data = { ...figures, within: sampledWithin(channels) };
      note({ kind: 'run.sampled', subject: ['run', runId], actor: PROGRAM, data });
    },
  });
}

/** Whether a run is still the one of which a rendering was ordered, and its figures are still plans. */
function isOrdered(run: RunRow, { pdfKey }: CoatOrder, version: number): boolean {
  return run.version === version && run.pdfKey === pdfKey && PLANNED.some((state) => state === run.state);
}

interface FoundInk {
  readonly isMeant: (run: RunRow) => boolean;
  /** Of each channel that was looked at (ml). */
  readonly mlOf: (config: PrinterConfig) => Record<string, number>;
  readonly found: Partial<Pick<RunRow, 'inkRendering' | 'inkSample'>>;
  /** Writes it into the log. */
  readonly tell: (
    work: Work,
    figures: { readonly run: number; readonly ml: number; readonly estimateMl: number },
  ) => void;
}

/** Puts what was found of a run's ink in place of what it had. */
function keepInk(shop: Shop, runId: string, { isMeant, mlOf, found, tell }: FoundInk): void {
  const before = findRun(shop.db, runId);
  if (!before || !isMeant(before)) return;
  transact(shop, (work) => {
    const run = findRun(work.tx, runId);
    if (!run || !isMeant(run)) return;
    const { config } = printerOf(work.tx, run);
    const counted = mlOf(config);
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
      .set({ inkMl: { ...run.inkMl, ...counted }, ...found, evenMl })
      .where(eq(runs.id, runId))
      .run();
    work.touch({ type: 'run', id: runId });
    const sum = (inkMl: Readonly<Record<string, number>>): number =>
      Object.values(inkMl).reduce((all, ml) => all + ml, 0);
    tell(work, { run: run.number, ml: sum({ ...run.inkMl, ...counted }), estimateMl: sum(run.inkMl) });
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

/** Ink of a sampled coat by channel (ml). */
function sampledMl(
  { channels, width, height, drops }: CoatOrder,
  sampled: readonly SampledInk[],
  config: PrinterConfig,
): Record<string, number> {
  const fullPl = drops[drops.length - 1] ?? 0;
  return Object.fromEntries(
    channels.map((id, i) => {
      const heads = config.channels.find((channel) => channel.id === id)?.heads ?? 1;
      return [id, (sampled[i]?.share ?? 0) * width * height * fullPl * 1e-9 * heads];
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
    .where(and(inArray(runs.state, [...PLANNED]), or(isNotNull(runs.inkRendering), isNotNull(runs.inkSample))))
    .all();
  for (const run of rows) {
    const { config } = printerOf(tx, run);
    if (!isStale(run, config)) continue;
    const laid = laidPieces(tx, run.id);
    tx.update(runs)
      .set({ inkMl: inkOfRun(run, config, laid), evenMl: evenInkOfRun(run, config, laid), ...NOTHING_FOUND })
      .where(eq(runs.id, run.id))
      .run();
    touch({ type: 'run', id: run.id });
  }
}
