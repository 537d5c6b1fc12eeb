import { eq } from 'drizzle-orm';
import { channelExercise } from './tables/careTables.ts';
import type { Reader } from './open.ts';
import type { printers } from './tables/floorTables.ts';

/**
 * When each channel of a printer was last exercised (ms): as its firings say, else as the device does. A device's own word never
 * makes a channel look fresher than what it fired.
 */
export function exercisedMs(
  db: Reader,
  { id, measured }: Pick<typeof printers.$inferSelect, 'id' | 'measured'>,
): Record<string, number> {
  const kept = db.select().from(channelExercise).where(eq(channelExercise.printerId, id)).all();
  return { ...measured?.firedMs, ...Object.fromEntries(kept.map((row) => [row.channelId, row.exercisedMs])) };
}
