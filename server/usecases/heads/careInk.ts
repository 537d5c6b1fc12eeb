import { sql } from 'drizzle-orm';
import { careMonths } from '../../db/tables/headTables.ts';
import type { Tx } from '../../db/open.ts';

/** Adds ink that care has fired to its month. */
export function addCareInk(tx: Tx, row: typeof careMonths.$inferInsert): void {
  tx.insert(careMonths)
    .values(row)
    .onConflictDoUpdate({
      target: [careMonths.printerId, careMonths.channelId, careMonths.month],
      set: { ml: sql`${careMonths.ml} + ${row.ml}` },
    })
    .run();
}
