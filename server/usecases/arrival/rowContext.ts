import type { RowContext } from '../../../core/ticket/ticketRow.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { TicketService } from '../ticket/ticketService.ts';

/** What names in an open ticket are looked up in: the stocks of the shop, the modes of the queue's printer. */
export function rowContext(shop: Shop, queueId: string): RowContext {
  const { printer } = new TicketService(shop.db).queue(queueId);
  return {
    zone: shop.clock.zone,
    dayEndsAt: shop.clock.dayEndsAt,
    unit: 'mm',
    stocks: shop.db.select().from(stocks).all(),
    modes: printer.config.modes,
  };
}
