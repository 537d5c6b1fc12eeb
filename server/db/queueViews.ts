import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { HotFolderView, PresetView, QueueView, StockView } from '../../contract/api/ticket.ts';
import { LIVE_JOB_STATES } from '../../core/flow/job.ts';
import { makeTicket } from '../../core/ticket/ticket.ts';
import type { Reader } from './open.ts';
import { hotFolders, jobs, presets, queues } from './tables/schema.ts';
import { printers, stockSettings, stocks } from './tables/floorTables.ts';

export type FolderState = HotFolderView['state'];

/** Queues with their hot folders and how many jobs wait in each. */
export function queueViews(db: Reader, stateOf: (hotFolderId: string) => FolderState): QueueView[] {
  const folders = db.select().from(hotFolders).orderBy(asc(hotFolders.path)).all();
  const runSettings = new Map(
    db
      .select()
      .from(stockSettings)
      .all()
      .map((row) => [`${row.printerId}/${row.stockId}`, row.settings]),
  );
  const waiting = new Map(
    db
      .select({ queueId: jobs.queueId, n: sql<number>`count(*)` })
      .from(jobs)
      .where(inArray(jobs.state, [...LIVE_JOB_STATES]))
      .groupBy(jobs.queueId)
      .all()
      .map((row) => [row.queueId, row.n]),
  );
  return db
    .select({ queue: queues, printer: printers })
    .from(queues)
    .innerJoin(printers, eq(printers.id, queues.printerId))
    .orderBy(asc(queues.position))
    .all()
    .map(({ queue, printer }) => {
      const base = { printer: printer.config.defaults, queue: queue.settings };
      const { stockId } = makeTicket(base).values;
      return {
        id: queue.id,
        name: queue.name,
        printerId: queue.printerId,
        settings: queue.settings,
        stamped: makeTicket({ ...base, stock: runSettings.get(`${printer.id}/${stockId}`) ?? {} }),
        gapMm: queue.gapMm,
        arrivalRule: queue.arrivalRule,
        goAfterMin: queue.goAfterMin,
        checks: queue.checks,
        routing: queue.routing,
        forPool: queue.forPool,
        hotFolders: folders
          .filter((folder) => folder.queueId === queue.id)
          .map(({ refusedCount, ...folder }) => ({ ...folder, refused: refusedCount, state: stateOf(folder.id) })),
        waitingJobs: waiting.get(queue.id) ?? 0,
      };
    });
}

/** Presets with what uses them. */
export function presetViews(db: Reader): PresetView[] {
  const used = new Map(
    db
      .select({ id: sql<string>`json_extract(${jobs.ticket}, '$.preset.id')`, n: sql<number>`count(*)` })
      .from(jobs)
      .where(
        and(inArray(jobs.state, [...LIVE_JOB_STATES]), sql`json_extract(${jobs.ticket}, '$.preset.id') is not null`),
      )
      .groupBy(sql`1`)
      .all()
      .map((row) => [row.id, row.n]),
  );
  const folders = db.select({ presetId: hotFolders.presetId }).from(hotFolders).all();
  return db
    .select()
    .from(presets)
    .orderBy(asc(presets.name))
    .all()
    .map((preset) => ({
      ...preset,
      usedBy: {
        jobs: used.get(preset.id) ?? 0,
        hotFolders: folders.filter((folder) => folder.presetId === preset.id).length,
      },
    }));
}

/** Stocks with their run settings on each printer. */
export function stockViews(db: Reader): StockView[] {
  const settings = db.select().from(stockSettings).all();
  return db
    .select()
    .from(stocks)
    .orderBy(asc(stocks.name))
    .all()
    .map(({ suits, ...stock }) => ({
      ...stock,
      suits: suits === null ? null : Object.fromEntries(Object.entries(suits).map(([key, ids]) => [key, [...ids]])),
      settings: Object.fromEntries(
        settings.filter((row) => row.stockId === stock.id).map((row) => [row.printerId, row.settings]),
      ),
    }));
}
