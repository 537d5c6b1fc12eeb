import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import Papa from 'papaparse';
import { mediaText } from '../../../core/stock/mediaText.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import type { RunHow } from '../../ports/work.ts';
import type { Shop } from '../../shop.ts';
import { stockOutlooks } from './stockOutlook.ts';

const LIST_COLUMNS = ['Stock', 'Left', 'On order', 'Days left', 'Order by', 'Packs', 'Pack', 'Order', 'Cost'] as const;

/** What has to be ordered now: the lines of the order list. */
export function orderList(shop: Shop): { readonly columns: readonly string[]; readonly rows: readonly string[][] } {
  const { stocks: outlooks, currency } = stockOutlooks(shop);
  const known = new Map(
    shop.db
      .select()
      .from(stocks)
      .all()
      .map((stock) => [stock.id, stock]),
  );
  const rows = outlooks
    .filter(({ order }) => order.isDue)
    .map(({ stockId, leftMm, onOrderMm, lasts, order }) => {
      const { name = stockId, sheetMm = null } = known.get(stockId) ?? {};
      return [
        name,
        mediaText(leftMm, sheetMm),
        mediaText(onOrderMm, sheetMm),
        lasts.likely === null ? 'more' : String(lasts.likely),
        order.byMs === null ? '' : format(order.byMs, 'yyyy-MM-dd', { in: tz(shop.clock.zone) }),
        String(order.packs),
        mediaText(order.packMm, sheetMm),
        mediaText(order.mm, sheetMm),
        `${(order.costMinor / 100).toFixed(2)} ${currency}`,
      ];
    });
  return { columns: LIST_COLUMNS, rows };
}

/** The order list as CSV. */
export function orderCsv(shop: Shop): string {
  const { columns, rows } = orderList(shop);
  return Papa.unparse({ fields: [...columns], data: rows.map((row) => [...row]) });
}

/** Widths of the columns on paper (mm). */
const WIDTHS = [48, 17, 19, 17, 22, 13, 16, 17, 20];

/** The order list as PDF, made by a worker. */
export function orderPdf(shop: Shop, how: RunHow = {}): Promise<Uint8Array> {
  const { columns, rows } = orderList(shop);
  const day = format(shop.clock.now(), 'd MMMM yyyy', { in: tz(shop.clock.zone) });
  return shop.work.run(
    'list sheet',
    {
      title: 'Media to order',
      under:
        rows.length === 0
          ? `Nothing has to be ordered on ${day}.`
          : `As it stands on ${day}. Days are days on which the shop is open.`,
      tables:
        rows.length === 0
          ? []
          : [{ heading: '', columns: columns.map((name, i) => [name, WIDTHS[i] ?? 18] as const), rows }],
    },
    how,
  );
}
