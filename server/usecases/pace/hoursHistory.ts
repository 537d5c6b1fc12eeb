import { asc, desc, gt, lt, or, isNull, and } from 'drizzle-orm';
import { type TimeSpan, attendedSpans } from '../../../core/schedule/shopHours.ts';
import type { Reader } from '../../db/open.ts';
import { awayPeriods } from '../../db/awayTables.ts';
import { hoursHistory } from '../../db/factTables.ts';
import type { Shop } from '../../shop.ts';
import { shopSetup } from '../setup/shopSetup.ts';

/** Writes down the hours of the shop where they are no longer as they were: the first ones count from the beginning of time. */
export function noteHours(shop: Pick<Shop, 'db' | 'clock'>): void {
  const { zone } = shop.clock;
  const { days, holidays } = shopSetup(shop.db, zone);
  const last = shop.db.select().from(hoursHistory).orderBy(desc(hoursHistory.fromMs)).limit(1).get();
  const same = last?.zone === zone && JSON.stringify([last.days, last.holidays]) === JSON.stringify([days, holidays]);
  if (same) return;
  const fromMs = last ? Math.max(shop.clock.now(), last.fromMs + 1) : 0;
  shop.db.insert(hoursHistory).values({ fromMs, zone, days, holidays }).run();
}

/** When somebody was there, by the hours as they were then, with how many. */
export function attendedThen(db: Reader, fromMs: number, toMs: number): (TimeSpan & { readonly people: number })[] {
  const rows = db
    .select()
    .from(hoursHistory)
    .where(lt(hoursHistory.fromMs, toMs))
    .orderBy(asc(hoursHistory.fromMs))
    .all();
  return rows.flatMap((row, i) => {
    const from = Math.max(fromMs, row.fromMs);
    const to = Math.min(toMs, rows[i + 1]?.fromMs ?? Infinity);
    if (from >= to) return [];
    return attendedSpans(row, from, to).map((span) => ({
      fromMs: Math.max(span.fromMs, from),
      toMs: Math.min(span.toMs, to),
      people: span.people ?? 1,
    }));
  });
}

/** Times away that were armed, as far as they lasted. */
export function armedThen(db: Reader, fromMs: number, toMs: number): TimeSpan[] {
  return db
    .select({ fromMs: awayPeriods.fromMs, toMs: awayPeriods.toMs, endedMs: awayPeriods.endedMs })
    .from(awayPeriods)
    .where(and(lt(awayPeriods.fromMs, toMs), or(gt(awayPeriods.endedMs, fromMs), isNull(awayPeriods.endedMs))))
    .orderBy(asc(awayPeriods.fromMs))
    .all()
    .map((row) => ({
      fromMs: Math.max(fromMs, row.fromMs),
      toMs: Math.min(toMs, row.toMs, row.endedMs ?? Infinity),
    }))
    .filter((span) => span.toMs > span.fromMs);
}

/** Spans that lie in one of two lists, without what both have counted twice. */
export function joinSpans(one: readonly TimeSpan[], other: readonly TimeSpan[]): TimeSpan[] {
  const joined: { fromMs: number; toMs: number }[] = [];
  for (const { fromMs, toMs } of [...one, ...other].sort((a, b) => a.fromMs - b.fromMs)) {
    const last = joined.at(-1);
    if (last && fromMs <= last.toMs) last.toMs = Math.max(last.toMs, toMs);
    else joined.push({ fromMs, toMs });
  }
  return joined;
}

/** How long a span lies within others (ms); those don't overlap. */
export function within(fromMs: number, toMs: number, spans: readonly TimeSpan[]): number {
  return spans.reduce((sum, span) => sum + Math.max(0, Math.min(toMs, span.toMs) - Math.max(fromMs, span.fromMs)), 0);
}
