import { and, desc, eq, gt, gte, inArray, isNotNull, lte, sql } from 'drizzle-orm';
import { setImmediate } from 'node:timers/promises';
import type { WhatIfAsk } from '../../../../contract/api/pace/whatIf.ts';
import { cutPathOf, sheetsOf } from '../../../../core/estimate/cutPath.ts';
import { type LearnedPrinter, learnedTime } from '../../../../core/estimate/learnedPrinter.ts';
import { learnedSpread } from '../../../../core/estimate/learnedRatio.ts';
import type { TimedRun } from '../../../../core/estimate/timedRun.ts';
import { extentOf } from '../../../../core/layout/checkLayout.ts';
import { NL_PER_ML } from '../../../../core/pace/quantities.ts';
import type { WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { batches } from '../../../db/batches.ts';
import { printerViews } from '../../../db/printerViews.ts';
import type { printers } from '../../../db/tables/floorTables.ts';
import { facts } from '../../../db/tables/factTables.ts';
import { runAttempts } from '../../../db/tables/records.ts';
import { jobs, pieces, runPieces, runs } from '../../../db/tables/schema.ts';
import type { Shop } from '../../../shop.ts';
import { laidPieces } from '../../layout/measureRun.ts';
import { termsOf } from '../../run/attempts.ts';
import { plannedRuns } from './plannedRuns.ts';

type PrinterRow = typeof printers.$inferSelect;
type RunRow = typeof runs.$inferSelect;

/** The latest so many attempts of a period are looked at. */
const MOST_RUNS = 2000;
/** So many runs can be laid out anew. */
export const MOST_RELAID = 300;
/** The event loop is let go after so many. */
const AT_ONCE = 5;

/** What of a period is looked at: all that was on the printers, and which of it the change touches. */
export interface WhatIfPeriod {
  readonly runs: readonly WhatIfRun[];
  /** Some of it was printed already: what that cost is a figure of Pace. */
  readonly isPast: boolean;
  readonly leftOut: number;
}

/** Whether a run is one that the change touches. */
export type Touches = (
  run: Pick<RunRow, 'id' | 'printerId' | 'queueId'> & { readonly ticket: RunRow['ticket'] },
) => boolean;

export function touchesOf({ printerIds, stockIds, queueId, modeId, runIds }: Omit<WhatIfAsk, 'change'>): Touches {
  return (run) =>
    (printerIds?.includes(run.printerId) ?? true) &&
    (stockIds?.includes(run.ticket.stockId) ?? true) &&
    (queueId === undefined || queueId === run.queueId) &&
    (modeId === undefined || modeId === run.ticket.modeId) &&
    (runIds?.includes(run.id) ?? true);
}

/**
 * All that was on these printers in a period, and, where it reaches beyond now, what is planned on them. What was printed twice is
 * there twice. Layouts of what the change touches are read piece by piece, so that nobody waits for it.
 */
export async function whatIfRuns(
  shop: Shop,
  printerRows: readonly PrinterRow[],
  { fromMs, toMs }: Pick<WhatIfAsk, 'fromMs' | 'toMs'>,
  touches: Touches,
): Promise<WhatIfPeriod> {
  const { db } = shop;
  const learned = new Map(printerViews(db).map((printer) => [printer.id, printer.learned]));
  const rows = printerRows
    .flatMap((printer) => attemptsOf(shop, printer, fromMs, toMs))
    .sort((a, b) => b.endedMs - a.endedMs);
  const looked = rows.slice(0, MOST_RUNS);
  const costs = costsOf(
    shop,
    looked.map(({ key }) => key),
  );
  const found: Omit<WhatIfRun, 'handsMs'>[] = [];
  const modes = new Map<string, string>();
  for (const [i, { key, run, printer, terms, startedMs, endedMs, pausedMs, fedMm }] of looked.entries()) {
    if (i % AT_ONCE === 0) await setImmediate();
    modes.set(key, run.ticket.modeId);
    found.push({
      ...{ id: key, printerId: printer.id, stockId: run.ticket.stockId, startedMs, endedMs },
      // By hand a run stops between its pieces: that is part of what it takes.
      stoodMs: isByHand(printer) ? 0 : pausedMs,
      timed: touches(run) ? timedOf(shop, run, printer) : null,
      ...jobsOf(shop, run.id),
      ...{ fedMm, mediaWidthMm: run.mediaWidthMm, ...(costs.get(key) ?? { costMicro: 0, inkMl: 0 }) },
      ratePerHourMinor: terms.ratePerHourMinor,
      mediaPerM2Minor: terms.mediaPerM2Minor,
      variance: varianceOf(learned.get(printer.id), run),
    });
  }
  if (toMs > shop.clock.now()) {
    for (const planned of plannedRuns(shop, new Set(printerRows.map(({ id }) => id)), toMs)) {
      await setImmediate();
      const printer = printerRows.find(({ id }) => id === planned.run.printerId);
      if (!printer) continue;
      modes.set(planned.run.id, planned.run.ticket.modeId);
      found.push({
        ...planned.figures,
        timed: touches(planned.run) ? timedOf(shop, planned.run, printer) : null,
        ...jobsOf(shop, planned.run.id),
        variance: varianceOf(learned.get(printer.id), planned.run),
      });
    }
  }
  return {
    runs: withHands(found, modes, printerRows),
    isPast: looked.length > 0,
    leftOut: rows.length - looked.length,
  };
}

/** The run that a row of an attempt or of the plan is of. */
export function runIdOf(key: string): string {
  return key.split('/')[0] ?? key;
}

function isByHand({ config }: PrinterRow): boolean {
  return config.sources.every(({ kind }) => kind === 'bed');
}

function varianceOf(learned: LearnedPrinter | undefined, { ticket }: RunRow): number {
  return learned ? learnedSpread(learnedTime(learned, ticket.modeId, ticket.stockId)) : 0;
}

/** Before each run, what hands took where the run before it on its printer was of another stock or mode. */
function withHands(
  runs: readonly Omit<WhatIfRun, 'handsMs'>[],
  modes: ReadonlyMap<string, string>,
  printerRows: readonly PrinterRow[],
): WhatIfRun[] {
  const before = new Map<string, Omit<WhatIfRun, 'handsMs'>>();
  return [...runs]
    .sort((a, b) => a.startedMs - b.startedMs)
    .map((run) => {
      const last = before.get(run.printerId);
      before.set(run.printerId, run);
      const { stockMin = 0, modeMin = 0 } = printerRows.find(({ id }) => id === run.printerId)?.config.changeOver ?? {};
      const isOtherStock = last !== undefined && last.stockId !== run.stockId;
      const isOtherMode = last !== undefined && modes.get(last.id) !== modes.get(run.id);
      return { ...run, handsMs: ((isOtherStock ? stockMin : 0) + (isOtherMode ? modeMin : 0)) * 60_000 };
    });
}

function attemptsOf({ db }: Shop, printer: PrinterRow, fromMs: number, toMs: number) {
  return db
    .select({ attempt: runAttempts, run: runs })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .where(
      and(
        eq(runAttempts.printerId, printer.id),
        gt(runAttempts.endedMs, fromMs),
        lte(runAttempts.endedMs, toMs),
        gte(runAttempts.startedMs, fromMs),
        isNotNull(runAttempts.startedMs),
      ),
    )
    .orderBy(desc(runAttempts.endedMs))
    .limit(MOST_RUNS + 1)
    .all()
    .flatMap(({ attempt, run }) => {
      const { startedMs, endedMs, pausedMs, fedMm } = attempt;
      if (startedMs === null || endedMs === null || endedMs <= startedMs) return [];
      const key = `${run.id}/${String(attempt.attempt)}/${String(attempt.coat)}`;
      return [{ key, run, printer, terms: attempt.terms ?? termsOf(db, run), startedMs, endedMs, pausedMs, fedMm }];
    });
}

/** What attempts cost and fired, as Pace has it. */
function costsOf({ db }: Shop, keys: readonly string[]): Map<string, Pick<WhatIfRun, 'costMicro' | 'inkMl'>> {
  const rows = batches(keys).flatMap((some) =>
    db
      .select({
        source: facts.source,
        costMicro: sql<number>`sum(${facts.costMicro})`,
        workNl: sql<number>`sum(${facts.workNl})`,
      })
      .from(facts)
      .where(
        inArray(
          facts.source,
          some.map((key) => `attempt/${key}`),
        ),
      )
      .groupBy(facts.source)
      .all(),
  );
  return new Map(
    rows.map(({ source, costMicro, workNl }) => [
      source.replace(/^attempt\//, ''),
      { costMicro, inkMl: workNl / NL_PER_ML },
    ]),
  );
}

/** The jobs of a run with their dates, and when the last of them had come. */
function jobsOf({ db }: Shop, runId: string): Pick<WhatIfRun, 'jobs' | 'readyMs'> {
  const rows = db
    .selectDistinct({
      id: jobs.id,
      dueMs: sql<number | null>`json_extract(${jobs.ticket}, '$.values.dueMs')`,
      arrivedMs: jobs.arrivedMs,
    })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .where(eq(runPieces.runId, runId))
    .all();
  return {
    jobs: rows.map(({ id, dueMs }) => ({ id, dueMs })),
    readyMs: Math.max(0, ...rows.map(({ arrivedMs }) => arrivedMs)),
  };
}

/** @returns null where the mode that it was printed in is gone: nobody knows what it would have taken */
function timedOf({ db }: Shop, run: RunRow, { config }: PrinterRow): TimedRun | null {
  const mode = config.modes.find(({ id }) => id === run.ticket.modeId);
  if (!mode) return null;
  const laid = laidPieces(db, run.id);
  const { span, dryOut, dryMin, cutOff } = run.ticket;
  return {
    ...{ lengthMm: run.lengthMm, mediaWidthMm: run.mediaWidthMm, span, dryOut, dryMin, cutOff },
    mode,
    pieces: laid.map(extentOf),
    sheets: sheetsOf(config.sources, run.settings.sheetMm),
    contours: config.finishing.contourCut ? cutPathOf(laid) : undefined,
  };
}
