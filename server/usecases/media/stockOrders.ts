import { and, asc, eq, isNull } from 'drizzle-orm';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import Papa from 'papaparse';
import type { RunHow } from '../../ports/work.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { stockOrders, stocks } from '../../db/schema.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { stockOutlooks } from './stockOutlook.ts';

/** Media was ordered: what is on its way counts as there for the next order. */
export function orderStock(shop: Shop, stockId: string, mm: number, actor: Actor): string {
  return transact(shop, (work) => {
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, stockId)).get();
    if (!stock) throw new Refused(404, 'no-such-stock', `There is no stock ${stockId}.`);
    const id = newId('order');
    work.tx.insert(stockOrders).values({ id, stockId, mm, orderedMs: work.nowMs }).run();
    work.touch({ type: 'stock', id: stockId });
    work.note({
      kind: 'stock.ordered',
      subject: ['stock', stockId],
      actor,
      data: { stock: stock.name, lengthMm: mm },
      undo: { label: 'Undo', method: 'POST', path: `/api/stock-orders/${id}/close` },
    });
    return id;
  });
}

/** An order that is all there, or will not come. */
export function closeOrder(shop: Shop, orderId: string, actor: Actor): void {
  transact(shop, (work) => {
    const order = orderRow(work, orderId);
    if (order.closedMs !== null) return;
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, order.stockId)).get();
    work.tx.update(stockOrders).set({ closedMs: work.nowMs }).where(eq(stockOrders.id, orderId)).run();
    work.touch({ type: 'stock', id: order.stockId });
    work.note({
      kind: 'stock.order-closed',
      subject: ['stock', order.stockId],
      actor,
      data: { stock: stock?.name ?? order.stockId, lengthMm: order.mm - order.receivedMm },
      undo: { label: 'Undo', method: 'POST', path: `/api/stock-orders/${orderId}/open` },
    });
  });
}

/** An order that was closed too early is waited for again. */
export function reopenOrder(shop: Shop, orderId: string, actor: Actor): void {
  transact(shop, (work) => {
    const order = orderRow(work, orderId);
    if (order.closedMs === null) return;
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, order.stockId)).get();
    work.tx.update(stockOrders).set({ closedMs: null }).where(eq(stockOrders.id, orderId)).run();
    work.touch({ type: 'stock', id: order.stockId });
    work.note({
      kind: 'stock.ordered',
      subject: ['stock', order.stockId],
      actor,
      data: { stock: stock?.name ?? order.stockId, lengthMm: order.mm - order.receivedMm },
      undo: { label: 'Undo', method: 'POST', path: `/api/stock-orders/${orderId}/close` },
    });
  });
}

function orderRow({ tx }: Work, id: string): typeof stockOrders.$inferSelect {
  const order = tx.select().from(stockOrders).where(eq(stockOrders.id, id)).get();
  if (!order) throw new Refused(404, 'no-such-order', `There is no order ${id}.`);
  return order;
}

/** What has come in of a stock is taken off the oldest order that is open; part of a transaction of the caller's. */
export function takeOffOrder({ tx, nowMs, touch }: Work, stockId: string, mm: number): void {
  let left = mm;
  const open = tx
    .select()
    .from(stockOrders)
    .where(and(isNull(stockOrders.closedMs), eq(stockOrders.stockId, stockId)))
    .orderBy(asc(stockOrders.orderedMs))
    .all();
  for (const order of open) {
    if (left <= 0) return;
    const taken = Math.min(left, order.mm - order.receivedMm);
    const receivedMm = order.receivedMm + taken;
    left -= taken;
    tx.update(stockOrders)
      .set({ receivedMm, closedMs: receivedMm >= order.mm - 1e-6 ? nowMs : null })
      .where(eq(stockOrders.id, order.id))
      .run();
    touch({ type: 'stock', id: stockId });
  }
}

const LIST_COLUMNS = ['Stock', 'Left', 'On order', 'Days left', 'Order by', 'Packs', 'Pack', 'Order', 'Cost'] as const;

/** What has to be ordered now, or soon: the lines of the order list. Lengths in m, money in units. */
export function orderList(shop: Shop): { readonly columns: readonly string[]; readonly rows: readonly string[][] } {
  const { stocks: outlooks, currency } = stockOutlooks(shop);
  const names = new Map(
    shop.db
      .select({ id: stocks.id, name: stocks.name })
      .from(stocks)
      .all()
      .map(({ id, name }) => [id, name]),
  );
  const metres = (mm: number): string => (mm / 1000).toFixed(1);
  const rows = outlooks
    .filter(({ order }) => order.isDue)
    .map(({ stockId, leftMm, onOrderMm, lasts, order }) => [
      names.get(stockId) ?? stockId,
      `${metres(leftMm)} m`,
      `${metres(onOrderMm)} m`,
      lasts.likely === null ? 'more' : String(lasts.likely),
      order.byMs === null ? '' : format(order.byMs, 'yyyy-MM-dd', { in: tz(shop.clock.zone) }),
      String(order.packs),
      `${metres(order.packMm)} m`,
      `${metres(order.mm)} m`,
      `${(order.costMinor / 100).toFixed(2)} ${currency}`,
    ]);
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
