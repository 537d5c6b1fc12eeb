import { findPrinter } from '../../db/findRows.ts';
import { and, eq } from 'drizzle-orm';
import { type FloorPlan, planFloor } from '../../../core/schedule/planFloor.ts';
import { type queues } from '../../db/tables/schema.ts';
import { printers, spools } from '../../db/tables/floorTables.ts';
import type { Shop, Work } from '../../shop.ts';
import { readFloor } from './fit.ts';
import { snapshotFor } from './plannedFloor.ts';

/**
 * The printer that a queue's next run goes to: its own, or of a pool the one that is done first by the plan of the floor; one
 * that holds the stock goes before one that doesn't.
 */
export function choosePrinter(
  shop: Shop,
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
  if (like.length < 2) return like[0] ?? own;
  const plan: FloorPlan = planFloor(snapshotFor(readFloor(shop, tx)));
  const ranked = like.map((printer) => {
    const loaded = tx
      .select({ id: spools.id })
      .from(spools)
      .where(and(eq(spools.printerId, printer.id), eq(spools.stockId, stockId)))
      .get();
    return { printer, loaded: loaded !== undefined, freeMs: plan.lines.get(printer.id)?.freeMs ?? Infinity };
  });
  ranked.sort((a, b) => Number(b.loaded) - Number(a.loaded) || a.freeMs - b.freeMs);
  return ranked[0]?.printer ?? own;
}
