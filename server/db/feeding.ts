import { eq } from 'drizzle-orm';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import { sheetsOf } from '../../core/estimate/cutPath.ts';
import type { Feeding } from '../../core/stock/need.ts';
import type { Reader } from './open.ts';
import { type runs } from './tables/schema.ts';
import { printers, stocks } from './tables/floorTables.ts';

type RunRow = typeof runs.$inferSelect;

/** How a run is fed, by its printer and its stock; each of them is read once. */
export function feedingOf(db: Reader): (run: RunRow) => Feeding & { readonly byHand: boolean } {
  const configs = new Map<string, PrinterConfig | undefined>();
  const sheets = new Map<string, number | null>();
  const configOf = (id: string): PrinterConfig | undefined => {
    if (!configs.has(id)) {
      configs.set(id, db.select({ config: printers.config }).from(printers).where(eq(printers.id, id)).get()?.config);
    }
    return configs.get(id);
  };
  const sheetOf = (id: string): number | null => {
    if (!sheets.has(id)) {
      const row = db.select({ sheetMm: stocks.sheetMm }).from(stocks).where(eq(stocks.id, id)).get();
      sheets.set(id, row?.sheetMm ?? null);
    }
    return sheets.get(id) ?? null;
  };
  return (run) => {
    const config = configOf(run.printerId);
    const sheetMm = run.settings.sheetMm ?? null;
    const packSheetMm = sheetOf(run.ticket.stockId);
    const loaded = config && sheetsOf(config.sources, sheetMm);
    return {
      lengthMm: run.lengthMm,
      sheetMm,
      packSheetMm,
      trailerMm: loaded ? 0 : (config?.machine.trailerMm ?? 0),
      isBack: run.side?.side === 'back',
      byHand: loaded?.byHand ?? false,
    };
  };
}
