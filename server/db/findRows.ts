import { eq, sql } from 'drizzle-orm';
import type { Reader } from './open.ts';
import { prepared } from './prepared.ts';
import { runs } from './tables/schema.ts';
import { printers } from './tables/floorTables.ts';

const runById = prepared((db) =>
  db
    .select()
    .from(runs)
    .where(eq(runs.id, sql.placeholder('id')))
    .prepare(),
);

const printerById = prepared((db) =>
  db
    .select()
    .from(printers)
    .where(eq(printers.id, sql.placeholder('id')))
    .prepare(),
);

/** A run as it is kept, or `undefined` where there is none. */
export function findRun(db: Reader, id: string): typeof runs.$inferSelect | undefined {
  return runById(db).get({ id });
}

/** A printer as it is kept, or `undefined` where there is none. */
export function findPrinter(db: Reader, id: string): typeof printers.$inferSelect | undefined {
  return printerById(db).get({ id });
}
