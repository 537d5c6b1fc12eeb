import { and, desc, eq, gt, isNull, lte } from 'drizzle-orm';
import { awayPeriods } from '../../db/tables/awayTables.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';

export type AwayRow = typeof awayPeriods.$inferSelect;

const armedRow = prepared((db) => db.select().from(awayPeriods).where(eq(awayPeriods.state, 'armed')).prepare());

/** The time away that is armed, if any. */
export function armedAway(db: Reader): AwayRow | undefined {
  return armedRow(db).get();
}

/** When it begins and ends. */
export function awaySpan(db: Reader): { readonly fromMs: number; readonly toMs: number } | null {
  const row = armedAway(db);
  return row ? { fromMs: row.fromMs, toMs: row.toMs } : null;
}

/** A time away by its id. */
export function findAway(db: Reader, id: string): AwayRow | undefined {
  return db.select().from(awayPeriods).where(eq(awayPeriods.id, id)).get();
}

/** The last one that has ended and that nobody has looked at. */
export function awayToLookAt(db: Reader, nowMs: number): AwayRow | undefined {
  return db
    .select()
    .from(awayPeriods)
    .where(and(isNull(awayPeriods.seenMs), lte(awayPeriods.endedMs, nowMs), gt(awayPeriods.endedMs, 0)))
    .orderBy(desc(awayPeriods.endedMs))
    .limit(1)
    .get();
}

/** The latest times away that are over, newest first. */
export function pastAways(db: Reader, count: number): AwayRow[] {
  return db
    .select()
    .from(awayPeriods)
    .where(gt(awayPeriods.endedMs, 0))
    .orderBy(desc(awayPeriods.endedMs))
    .limit(count)
    .all();
}
