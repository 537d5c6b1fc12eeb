import type { PrinterView } from '../../../contract/api/floor.ts';
import { printerViews } from '../../db/printerViews.ts';
import type { Shop } from '../../shop.ts';
import { queuedLine } from './lineOrder.ts';
import { startAnswer } from './mayStart.ts';

/** Printers as they are now, with what holds the first run of their line back. */
export function printersNow(shop: Shop, id?: string): PrinterView[] {
  return printerViews(shop.db, id).map((printer) => {
    const [first] = queuedLine(shop.db, printer.id);
    const answer = first && startAnswer(shop, first);
    const held = first && answer?.ok === false ? { runId: first.id, ...answer.trouble } : null;
    return { ...printer, held };
  });
}
