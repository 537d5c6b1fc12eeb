import { sheetsOf } from '../../core/estimate/cutPath.ts';
import type { Feeding } from '../../core/stock/need.ts';
import type { Reader } from './open.ts';
import { printers, type runs, stocks } from './schema.ts';

type RunRow = typeof runs.$inferSelect;

/** How a run is fed, by its printer and its stock; both are read once. */
export function feedingOf(db: Reader): (run: RunRow) => Feeding & { readonly byHand: boolean } {
  const configs = new Map(
    db
      .select({ id: printers.id, config: printers.config })
      .from(printers)
      .all()
      .map((row) => [row.id, row.config]),
  );
  const sheets = new Map(
    db
      .select({ id: stocks.id, sheetMm: stocks.sheetMm })
      .from(stocks)
      .all()
      .map((row) => [row.id, row.sheetMm]),
  );
  return (run) => {
    const config = configs.get(run.printerId);
    const sheetMm = run.settings.sheetMm ?? null;
    const packSheetMm = sheets.get(run.ticket.stockId) ?? null;
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
