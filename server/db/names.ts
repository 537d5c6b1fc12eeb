import type { Reader } from './open.ts';
import type { queues } from './tables/schema.ts';
import type { printers, stocks } from './tables/floorTables.ts';

/** What printers, stocks and queues are called, by id: they are few, and lists name many of each. */
export function namesOf(db: Reader, table: typeof printers | typeof stocks | typeof queues): Map<string, string> {
  const rows = db.select({ id: table.id, name: table.name }).from(table).all();
  return new Map(rows.map(({ id, name }) => [id, name]));
}
