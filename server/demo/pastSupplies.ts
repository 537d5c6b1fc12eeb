import { and, eq, like, sql } from 'drizzle-orm';
import { inkLedger, spoolLedger } from '../db/tables/records.ts';
import { printers, spools, stocks } from '../db/tables/floorTables.ts';
import { spoolLeftMm } from '../db/printerViews.ts';
import type { Shop } from '../shop.ts';
import { INK_USED } from './floorData.ts';

/** Ids of spools that were used up before the demo opens. */
const PREFIX = 'past-';
const ROLL_MM = 50_000;
const PACK_SHEETS = 300;

/** The spool of a stock that the weeks before used: a new one comes in when the last one holds too little. */
export function pastSpool(past: Shop, stockId: string, needMm: number): string {
  const { db } = past;
  const nowMs = past.clock.now();
  const open = db
    .select()
    .from(spools)
    .where(and(eq(spools.stockId, stockId), like(spools.id, `${PREFIX}%`), eq(spools.gone, false)))
    .get();
  if (open && spoolLeftMm(db, open.id) >= needMm) return open.id;
  if (open) useUp(past, open.id);
  const stock = db.select().from(stocks).where(eq(stocks.id, stockId)).get();
  if (!stock) throw new Error(`no stock ${stockId}`);
  const count = db
    .select({ n: sql<number>`count(*)` })
    .from(spools)
    .where(like(spools.id, `${PREFIX}${stockId}-%`))
    .get();
  const no = (count?.n ?? 0) + 1;
  const id = `${PREFIX}${stockId}-${String(no)}`;
  const receivedMm = Math.max(needMm, stock.sheetMm === null ? ROLL_MM : PACK_SHEETS * stock.sheetMm);
  db.insert(spools)
    .values({
      id,
      label: `${labelOf(stock.name)}-${String(no).padStart(2, '0')}`,
      lot: `W${String(300 + no)}`,
      stockId,
      kind: stock.sheetMm === null ? 'roll' : 'pack',
    })
    .run();
  db.insert(spoolLedger).values({ spoolId: id, kind: 'received', mm: receivedMm, atMs: nowMs }).run();
  return id;
}

/** `Block-out banner 1600` → `BO` as on the labels of the rack; numbers below those that stand there now. */
function labelOf(name: string): string {
  return name
    .split(/[\s-]+/)
    .slice(0, 2)
    .map((word) => word.slice(0, 1).toUpperCase())
    .join('');
}

function useUp(past: Shop, spoolId: string): void {
  const left = spoolLeftMm(past.db, spoolId);
  if (left > 0)
    past.db
      .insert(spoolLedger)
      .values({ spoolId, kind: 'correction', mm: -left, atMs: past.clock.now(), reason: 'end of the roll' })
      .run();
  past.db.update(spools).set({ gone: true, printerId: null, sourceId: null }).where(eq(spools.id, spoolId)).run();
}

/** When the demo opens the old spools are used up, and the tanks are as its data says: they were filled meanwhile. */
export function levelLedgers(past: Shop, openMs: number): void {
  const { db } = past;
  past.db
    .select({ id: spools.id })
    .from(spools)
    .where(and(like(spools.id, `${PREFIX}%`), eq(spools.gone, false)))
    .all()
    .forEach(({ id }) => {
      useUp(past, id);
    });
  for (const printer of db.select().from(printers).all()) {
    for (const { id: channelId, tankMl } of printer.config.channels) {
      const share = INK_USED[printer.id]?.[channelId];
      if (share === undefined) continue;
      const own = and(eq(inkLedger.printerId, printer.id), eq(inkLedger.channelId, channelId));
      const booked =
        db
          .select({ ml: sql<number>`coalesce(sum(ml), 0)` })
          .from(inkLedger)
          .where(own)
          .get()?.ml ?? 0;
      const filled = -share * tankMl - booked;
      if (filled > 0)
        db.insert(inkLedger)
          .values({ printerId: printer.id, channelId, ml: filled, purpose: 'fill', atMs: openMs })
          .run();
    }
  }
}
