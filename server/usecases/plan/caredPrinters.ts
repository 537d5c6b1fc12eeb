import type { PrinterView } from '../../../contract/api/floor.ts';
import type { PrinterBase } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { plannedCare } from '../care/plannedCare.ts';

/** A printer with the care in its line: what plans are made from. */
export type CaredPrinter = Omit<PrinterView, 'held'>;

export function withCare(shop: Shop, printers: readonly PrinterBase[]): CaredPrinter[] {
  const nowMs = shop.clock.now();
  return printers.map((printer) => ({ ...printer, care: plannedCare(shop, printer.id, nowMs) }));
}
