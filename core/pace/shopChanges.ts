import { learnedRatio } from '../estimate/learnedRatio.ts';
import { alarmHeight, watchRatios } from '../estimate/changePoint.ts';

/** One value of a series: what was measured ÷ what was estimated. */
export interface SeriesValue {
  /** Values of the same series are of one kind: a printer's runs in a mode on a stock, or one channel's ink. */
  readonly series: string;
  /** What its series learns from at first: such as the printer. */
  readonly above: string;
  readonly atMs: number;
  readonly ratio: number;
}

/** Something that is no longer as it was. */
export interface ShopChange {
  readonly series: string;
  readonly sinceMs: number;
  readonly seenMs: number;
  /** Share by which the series has grown; below 0: shrunk. */
  readonly share: number;
  /** Values since then. */
  readonly count: number;
}

export interface ShopChanges {
  readonly changes: readonly ShopChange[];
  /** One false alarm in so many values is to be expected; as many come in the days that were asked for. */
  readonly values: number;
}

/** What is asked of a shop's series. */
export interface ChangesAsked {
  readonly nowMs: number;
  /** The time in which one false alarm is taken. */
  readonly days: number;
  /** Changes that began before this are no news. */
  readonly latelyMs: number;
}

/** Below so many values a false alarm would be too rare to be of any use. */
const LEAST_VALUES = 50;
/** What a series begins from is learned from so many of the first values of all that lies below the same. */
const FIRST = 30;

/**
 * Which of a shop's series have changed lately and are still so. The alarm is as high that one is false in as many values as the shop
 * yields in the days given: one false alarm in that time.
 * @param values the oldest first
 */
export function shopChanges(values: readonly SeriesValue[], { nowMs, days, latelyMs }: ChangesAsked): ShopChanges {
  const since = nowMs - days * 86_400_000;
  const count = Math.max(LEAST_VALUES, values.filter(({ atMs }) => atMs >= since).length);
  const height = alarmHeight(count);
  const bySeries = new Map<string, SeriesValue[]>();
  const byAbove = new Map<string, number[]>();
  for (const value of values) {
    if (!(value.ratio > 0) || !Number.isFinite(value.ratio)) continue;
    const own = bySeries.get(value.series);
    if (own) own.push(value);
    else bySeries.set(value.series, [value]);
    const above = byAbove.get(value.above) ?? [];
    byAbove.set(value.above, above);
    if (above.length < FIRST) above.push(value.ratio);
  }
  const changes = [...bySeries].flatMap(([series, own]): ShopChange[] => {
    const first = byAbove.get(own[0]?.above ?? '') ?? [];
    const { m } = learnedRatio([...first].reverse());
    const watched = watchRatios(
      own.map(({ ratio }) => ratio),
      m,
      height,
    );
    const last = watched.changes.at(-1);
    const began = own[last?.since ?? -1];
    const seen = own[last?.seen ?? -1];
    if (!last || !began || !seen || began.atMs < latelyMs) return [];
    return [
      {
        series,
        sinceMs: began.atMs,
        seenMs: seen.atMs,
        share: Math.exp(last.size) - 1,
        count: own.length - last.since,
      },
    ];
  });
  return { changes: changes.sort((a, b) => Math.abs(b.share) - Math.abs(a.share)), values: count };
}
