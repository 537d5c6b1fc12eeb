import type { PrinterView } from '../../../contract/api/floor.ts';
import { type CaredPrinter, printerViews } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { withCare } from './caredPrinters.ts';
import { queuedLine } from './lineOrder.ts';
import { startAnswer } from './mayStart.ts';

/**
 * Printers as they are now, with what holds the first run of their line back. What the device itself says stays in its row: the
 * dispatcher goes by that.
 */
export function printersNow(shop: Shop, id?: string): PrinterView[] {
  return withHeld(shop, withCare(shop, printerViews(shop.db, id)));
}

/** The same of printers that were read already. */
export function withHeld(shop: Shop, printers: readonly CaredPrinter[]): PrinterView[] {
  return printers.map((printer) => {
    const [first] = queuedLine(shop.db, printer.id);
    const answer = first && startAnswer(shop, first);
    const held = first && answer?.ok === false ? { runId: first.id, ...answer.trouble } : null;
    // A device that could print and may not is not idle: somebody has to bring what its next run lacks.
    const waits = printer.state === 'idle' && held?.hand === true;
    return { ...printer, held, ...(waits ? { state: 'waiting' as const, reason: held.brief } : {}) };
  });
}
