import type { CaredPrinter, PrinterBase } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { plannedCare } from '../care/plannedCare.ts';

/** Printers with the care in their lines. */
export function withCare(shop: Shop, printers: readonly PrinterBase[]): CaredPrinter[] {
  const nowMs = shop.clock.now();
  return printers.map((printer) => ({ ...printer, care: plannedCare(shop, printer.id, nowMs) }));
}
