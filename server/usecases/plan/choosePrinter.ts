import { findPrinter } from '../../db/findRows.ts';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { printers, type queues, runs, spools } from '../../db/schema.ts';
import type { Work } from '../../shop.ts';

/**
 * The printer that a queue's next run goes to: its own, or of a pool the one that is done first; one that holds the stock
 * goes before one that doesn't.
 */
export function choosePrinter(
  { tx }: Work,
  queue: typeof queues.$inferSelect,
  stockId: string,
): typeof printers.$inferSelect | undefined {
  const own = findPrinter(tx, queue.printerId);
  const pool = own?.config.pool ?? null;
  if (!own || !queue.forPool || pool === null) return own;
  const like = tx
    .select()
    .from(printers)
    .all()
    .filter((each) => each.config.pool === pool && each.linkStatus !== 'faulted' && each.linkStatus !== 'off');
  const ranked = like.map((printer) => {
    const ahead = tx
      .select({ ms: sql<number>`coalesce(sum(coalesce(${runs.msLeft}, ${runs.estimateMs})), 0)` })
      .from(runs)
      .where(and(eq(runs.printerId, printer.id), inArray(runs.state, ['queued', 'sent', 'printing', 'paused'])))
      .get();
    const loaded = tx
      .select({ id: spools.id })
      .from(spools)
      .where(and(eq(spools.printerId, printer.id), eq(spools.stockId, stockId)))
      .get();
    return { printer, loaded: loaded !== undefined, aheadMs: ahead?.ms ?? 0 };
  });
  ranked.sort((a, b) => Number(b.loaded) - Number(a.loaded) || a.aheadMs - b.aheadMs);
  return ranked[0]?.printer ?? own;
}
