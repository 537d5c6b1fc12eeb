import { and, eq, gte, inArray, lte } from 'drizzle-orm';
import { costOfRun } from '../../../core/estimate/money.ts';
import type { Reader } from '../../db/open.ts';
import { runAttempts } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { firedMl } from '../run/runCost.ts';

/** An attempt that failed or was cancelled, and what it cost: media, ink and the machine's time. */
export interface BrokenOff {
  readonly runId: string;
  readonly fedMm: number;
  readonly minor: number;
}

/** Attempts of runs that broke off from one instant to another. */
export function attemptsBrokenOff(
  db: Reader,
  runIds: readonly string[],
  fromMs: number,
  untilMs: number,
): readonly BrokenOff[] {
  if (runIds.length === 0) return [];
  return db
    .select({
      attempt: runAttempts,
      mediaWidthMm: runs.mediaWidthMm,
      mediaPerM2Minor: stocks.pricePerM2Minor,
      config: printers.config,
    })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .innerJoin(stocks, eq(stocks.id, runAttempts.stockId))
    .innerJoin(printers, eq(printers.id, runAttempts.printerId))
    .where(
      and(
        inArray(runAttempts.runId, [...runIds]),
        inArray(runAttempts.outcome, ['failed', 'cancelled']),
        gte(runAttempts.endedMs, fromMs),
        lte(runAttempts.endedMs, untilMs),
      ),
    )
    .all()
    .map(({ attempt: { runId, attempt, printerId, fedMm, startedMs, endedMs, pausedMs }, config, ...media }) => {
      const channelIds = config.channels.map(({ id }) => id);
      const { totalMinor } = costOfRun({
        inkMl: firedMl(db, { printerId, channelIds, runId, attempt }),
        pricePerMlMicro: Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro])),
        ...{ fedMm, ...media },
        timeMs: startedMs === null || endedMs === null ? 0 : Math.max(0, endedMs - startedMs - pausedMs),
        ...{ ratePerHourMinor: config.ratePerHourMinor, extraMinor: 0 },
      });
      return { runId, fedMm, minor: totalMinor };
    });
}
