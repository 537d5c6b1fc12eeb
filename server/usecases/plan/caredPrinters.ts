import type { CaredPrinter, PrinterBase } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { plannedCare, plannedRules } from '../care/plannedCare.ts';

/** Printers with the care in their lines, and the rules that put care before their runs. */
export function withCare(shop: Shop, printers: readonly PrinterBase[]): CaredPrinter[] {
  const nowMs = shop.clock.now();
  return printers.map((printer) => ({
    ...printer,
    care: plannedCare(shop, printer.id, nowMs),
    careRules: plannedRules(shop.db, printer.id),
  }));
}
