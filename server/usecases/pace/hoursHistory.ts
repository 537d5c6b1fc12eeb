import { asc, desc, gt, lt, or, isNull, and } from 'drizzle-orm';
import { type AttendedSpan, type ShopHours, type TimeSpan, attendedSpans } from '../../../core/schedule/shopHours.ts';
import type { Reader } from '../../db/open.ts';
import { awayPeriods } from '../../db/tables/awayTables.ts';
import { hoursHistory } from '../../db/tables/factTables.ts';

/**
 * Writes down the hours of the shop where they are no longer as they were: the first ones count from the beginning of time. Part of a
 * transaction of the caller's where hours are being set: once before, so that the old ones are known, and once after.
 * @returns whether days of the shop begin at other instants from now on
 */
export function noteHours(db: Reader, { zone, days, holidays }: ShopHours, nowMs: number): boolean {
  const last = db.select().from(hoursHistory).orderBy(desc(hoursHistory.fromMs)).limit(1).get();
  const same = last?.zone === zone && JSON.stringify([last.days, last.holidays]) === JSON.stringify([days, holidays]);
  if (same) return false;
  const fromMs = last ? Math.max(nowMs, last.fromMs + 1) : 0;
  db.insert(hoursHistory).values({ fromMs, zone, days, holidays }).run();
  return last !== undefined && last.zone !== zone;
}

type HoursRow = typeof hoursHistory.$inferSelect;

const STRETCH_MS = 30 * 86_400_000;
/** Spans of hours by stretches of thirty days: years of them are asked for again and again, and never change. */
const kept = new Map<string, readonly AttendedSpan[]>();
const MOST_KEPT = 2000;

function spansOf(row: HoursRow, stretch: number): readonly AttendedSpan[] {
  const key = JSON.stringify([row.zone, row.days, row.holidays, stretch]);
  const known = kept.get(key);
  if (known) return known;
  if (kept.size > MOST_KEPT) kept.clear();
  // A span that begins before the stretch belongs to the one that it begins in.
  const from = stretch * STRETCH_MS;
  const spans = attendedSpans(row, from, from + STRETCH_MS).filter(
    ({ fromMs }) => fromMs >= from && fromMs < from + STRETCH_MS,
  );
  kept.set(key, spans);
  return spans;
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
    // A day before: what begins there may reach into it.
    const first = Math.floor((from - 86_400_000) / STRETCH_MS);
    const found: (TimeSpan & { readonly people: number })[] = [];
    for (let stretch = first; stretch * STRETCH_MS < to; stretch += 1) {
      for (const span of spansOf(row, stretch)) {
        if (span.toMs <= from || span.fromMs >= to) continue;
        found.push({ fromMs: Math.max(span.fromMs, from), toMs: Math.min(span.toMs, to), people: span.people ?? 1 });
      }
    }
    return found;
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
