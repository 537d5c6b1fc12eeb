import { findPrinter } from '../../db/findRows.ts';
import { Refused, type Shop } from '../../shop.ts';

/** A person has emptied the basket or stacker: the device counts from nothing again. */
export async function emptyBasket(shop: Shop, printerId: string): Promise<void> {
  const printer = findPrinter(shop.db, printerId);
  if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
  await shop.link.emptied(printer.id).catch(() => {
    throw new Refused(503, 'no-answer', `${printer.name} does not answer now.`, undefined, 'Try again when it does.');
  });
  shop.wakeDispatcher();
}
