import { eq } from 'drizzle-orm';
import type { WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { MICRO_PER_MINOR } from '../../../../core/estimate/money.ts';
import { runs } from '../../../db/tables/schema.ts';
import type { Shop } from '../../../shop.ts';
import { costOf } from '../../away/awayWorld.ts';
import { plannedWithPurges } from '../../care/plannedLines.ts';
import { readFloor } from '../../plan/fit.ts';

type RunRow = typeof runs.$inferSelect;

/** A run that is planned, with all that the plan says of it. */
export interface PlannedRun {
  readonly run: RunRow;
  readonly figures: Omit<WhatIfRun, 'timed' | 'jobs' | 'readyMs' | 'variance' | 'handsMs'>;
}

/** Runs that wait on these printers and, by the plan of the Floor, will have been printed until then. */
export function plannedRuns(shop: Shop, printerIds: ReadonlySet<string>, untilMs: number): PlannedRun[] {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
  return floor.printers.flatMap((printer) => {
    if (!printerIds.has(printer.id)) return [];
    return (lines.get(printer.id)?.events ?? []).flatMap((event): PlannedRun[] => {
      if (event.kind !== 'run' || event.toMs > untilMs) return [];
      const item = floor.runs.find(({ id }) => id === event.id);
      const run = item?.state === 'queued' ? shop.db.select().from(runs).where(eq(runs.id, item.id)).get() : undefined;
      if (!item || !run) return [];
      return [
        {
          run,
          figures: {
            ...{ id: run.id, printerId: printer.id, stockId: run.ticket.stockId },
            ...{ startedMs: event.fromMs, endedMs: event.toMs, stoodMs: 0 },
            ...{ fedMm: item.needMm, mediaWidthMm: run.mediaWidthMm },
            inkMl: Object.values(item.inkMl).reduce((sum, ml) => sum + ml, 0),
            costMicro: costOf(floor, item) * MICRO_PER_MINOR,
            ratePerHourMinor: printer.config.ratePerHourMinor,
            mediaPerM2Minor: floor.stocks[run.ticket.stockId]?.pricePerM2Minor ?? 0,
          },
        },
      ];
    });
  });
}
