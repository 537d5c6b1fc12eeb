import type { CaredPrinter, PrinterBase } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { activeRules } from '../care/careRules.ts';
import { plannedCare, plannedRules } from '../care/plannedCare.ts';

/** Printers with the care in their lines, and the rules that put care before their runs. */
export function withCare(shop: Shop, printers: readonly PrinterBase[]): CaredPrinter[] {
  const nowMs = shop.clock.now();
  const rules = activeRules(shop.db);
  return printers.map((printer) => ({
    ...printer,
    care: plannedCare(shop, printer, nowMs),
    careRules: plannedRules(shop.db, rules, printer),
  }));
}
