import type { PaceChanges } from '../../../contract/api/pace/pace.ts';
import type { SeriesValue } from '../../../core/pace/shopChanges.ts';
import { cleanAttempts } from '../../db/cleanAttempts.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import type { RunHow } from '../../ports/work.ts';
import { namesOf } from '../../db/names.ts';
import type { Shop } from '../../shop.ts';

const DAY_MS = 86_400_000;
/** One false alarm in so many days is taken. */
const ALARM_DAYS = 90;
/** So far back series are looked at; what changed before the last of these is no news. */
const BACK_DAYS = 180;
const NEWS_DAYS = 60;
/** Of each printer. */
const MOST_RUNS = 1500;
interface Named {
  readonly what: 'time' | 'ink';
  readonly printerId: string;
  readonly printerName: string;
  /** Mode and stock, or the channel. */
  readonly of: string;
}

/** What is no longer as it was: times of a printer in a mode on a stock, and ink of a channel, against their estimates. */
export async function paceChanges(shop: Shop, how: RunHow = {}): Promise<PaceChanges> {
  const { db } = shop;
  const nowMs = shop.clock.now();
  const names = new Map<string, Named>();
  const stockNames = namesOf(db, stocks);
  const values = db
    .select()
    .from(printers)
    .all()
    .flatMap((printer) => {
      const attempts = cleanAttempts(db, printer, { most: MOST_RUNS, sinceMs: nowMs - BACK_DAYS * DAY_MS });
      const times = attempts.map(({ modeId, stockId, endedMs, time }): SeriesValue => {
        const series = `time ${printer.id} ${modeId} ${stockId}`;
        const mode = printer.config.modes.find(({ id }) => id === modeId)?.name ?? modeId;
        const of = `${mode}, ${stockNames.get(stockId) ?? stockId}`;
        names.set(series, { what: 'time', printerId: printer.id, printerName: printer.name, of });
        return { series, above: `time ${printer.id}`, atMs: endedMs, ratio: time };
      });
      const inks = attempts.flatMap(({ ink, endedMs }) =>
        Object.entries(ink).map(([channelId, ratio]): SeriesValue => {
          const series = `ink ${printer.id} ${channelId}`;
          const of = printer.config.channels.find(({ id }) => id === channelId)?.name ?? channelId;
          names.set(series, { what: 'ink', printerId: printer.id, printerName: printer.name, of });
          return { series, above: series, atMs: endedMs, ratio };
        }),
      );
      return [...times, ...inks];
    })
    .sort((a, b) => a.atMs - b.atMs);
  const latelyMs = nowMs - NEWS_DAYS * DAY_MS;
  const found = await shop.work.run('pace changes', { values, asked: { nowMs, days: ALARM_DAYS, latelyMs } }, how);
  const { changes, values: count } = found;
  return {
    falseAlarmDays: ALARM_DAYS,
    values: count,
    changes: changes.flatMap(({ series, sinceMs, seenMs, share, count: runCount }) => {
      const named = names.get(series);
      return named ? [{ ...named, sinceMs, seenMs, share, runs: runCount }] : [];
    }),
  };
}
