import { type Placeholder, sql } from 'drizzle-orm';
import type { Tx } from './open.ts';
import { prepared } from './prepared.ts';
import { events } from './tables/records.ts';

const eventInsert = (undo: Placeholder | null) =>
  prepared((db) =>
    db
      .insert(events)
      .values({
        atMs: sql.placeholder('atMs'),
        kind: sql.placeholder('kind'),
        subjectType: sql.placeholder('subjectType'),
        subjectId: sql.placeholder('subjectId'),
        actorKind: sql.placeholder('actorKind'),
        actorId: sql.placeholder('actorId'),
        who: sql.placeholder('who'),
        text: '',
        data: sql.placeholder('data'),
        undo,
      })
      .returning({ id: events.id })
      .prepare(),
  );
// A placeholder would keep "no way back" as the word `null`, which the database does not take for NULL.
const insertFinalEvent = eventInsert(null);
const insertEventWithUndo = eventInsert(sql.placeholder('undo'));

/** Writes a row of the event log. @returns its id */
export function insertEvent(tx: Tx, row: Omit<typeof events.$inferInsert, 'id' | 'text'>): number {
  const insert = row.undo ? insertEventWithUndo : insertFinalEvent;
  return insert(tx).get(row).id;
}
