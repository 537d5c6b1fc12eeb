import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import { stockOrders, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';

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

/** An order that is all there or will not come is closed; one that was closed too early is waited for again. */
export function setOrderOpen(shop: Shop, orderId: string, isOpen: boolean, actor: Actor): void {
  transact(shop, (work) => {
    const order = orderRow(work, orderId);
    if (isOpen === (order.closedMs === null)) return;
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, order.stockId)).get();
    work.tx
      .update(stockOrders)
      .set({ closedMs: isOpen ? null : work.nowMs })
      .where(eq(stockOrders.id, orderId))
      .run();
    work.touch({ type: 'stock', id: order.stockId });
    work.note({
      kind: isOpen ? 'stock.ordered' : 'stock.order-closed',
      subject: ['stock', order.stockId],
      actor,
      data: { stock: stock?.name ?? order.stockId, lengthMm: order.mm - order.receivedMm },
      undo: { label: 'Undo', method: 'POST', path: `/api/stock-orders/${orderId}/${isOpen ? 'close' : 'open'}` },
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
