import type { StockTake } from '../../../contract/api/media/supply.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { LEAST_BOOKED_MM, bookCorrection } from './spools.ts';

/**
 * Books what was counted on the rack against the ledgers, in one step with its reason. What went out between the look at the page and
 * the count stays gone: the difference is taken from what the page said.
 */
export function countStock(shop: Shop, { reason, counts }: StockTake, actor: Actor): number {
  if (reason.trim() === '') {
    throw new Refused(422, 'no-reason', 'A count needs its reason.', undefined, 'Say why there are differences.');
  }
  const changed = transact(shop, (work) => {
    const booked: { spoolId: string; mm: number }[] = [];
    for (const { spoolId, leftMm, expectedMm } of counts) {
      const [spool] = spoolViews(work.tx, { id: spoolId });
      if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${spoolId}.`);
      const mm = leftMm - expectedMm;
      if (Math.abs(mm) < LEAST_BOOKED_MM) continue;
      bookCorrection(work, spool, mm, `counted: ${reason.trim()}`);
      booked.push({ spoolId, mm });
    }
    work.note({
      kind: 'stock.counted',
      subject: ['shop', 'spools'],
      actor,
      data: {
        spools: counts.length,
        differences: booked.length,
        mm: booked.reduce((sum, { mm }) => sum + mm, 0),
        reason: reason.trim(),
      },
      ...(booked.length > 0 && {
        undo: {
          label: 'Undo',
          method: 'POST' as const,
          path: '/api/stock-takes',
          body: {
            reason: 'count undone',
            // Only differences count: what was found too much was not there, and the other way round.
            counts: booked.map(({ spoolId, mm }) => ({ spoolId, leftMm: 0, expectedMm: mm })),
          },
        },
      }),
    });
    return booked.length;
  });
  shop.wakeDispatcher();
  return changed;
}
