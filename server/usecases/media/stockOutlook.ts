import { and, desc, eq, isNull, ne, sql, sum } from 'drizzle-orm';
import type { StockOutlook, StockOutlooks } from '../../../contract/api/media/supply.ts';
import { type UseUntil, daysLasting, orderAdvice, useAhead, usePattern } from '../../../core/forecast/stockForecast.ts';
import type { Reader } from '../../db/open.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { spools, stockOrders } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { plannedWithPurges } from '../care/plannedLines.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { type OpenDay, dayOf, openDays, stockDays } from './stockDays.ts';

const DAY_MS = 86_400_000;
/** So many open days ahead it is looked, and drawn. */
const AHEAD_DAYS = 60;
/** So many calendar days hold them, with weekends and holidays. */
const CALENDAR_DAYS = 130;
const DRAWN_BACK = 30;
const A_WEEK = 5;
const DEFAULT_PACK_MM = 50_000;
/** 1 in 10 lies beyond each end of what is drawn. */
const SPREADS = 1.2816;

/** How long each stock lasts, and what has to be ordered: by what open days used, and by what is queued. */
export function stockOutlooks(shop: Shop): StockOutlooks {
  const floor = readFloor(shop);
  const now = shop.clock.now();
  const ahead = openDays(shop, dayOf(now, shop.clock.zone).getTime(), now + CALENDAR_DAYS * DAY_MS).slice(
    0,
    AHEAD_DAYS,
  );
  const queued = queuedUntil(shop, floor, ahead);
  const orders = shop.db
    .select()
    .from(stockOrders)
    .where(isNull(stockOrders.closedMs))
    .orderBy(stockOrders.orderedMs)
    .all();
  const past = stockDays(shop);
  const { orderAheadDays } = shopSetup(shop.db, shop.clock.zone);
  return {
    currency: floor.currency,
    stocks: Object.values(floor.stocks)
      .sort((a, b) => a.name.localeCompare(b.name, 'en'))
      .map((stock): StockOutlook => {
        const own = orders.filter(({ stockId }) => stockId === stock.id);
        const spoolsOf = floor.spools.filter(({ stockId }) => stockId === stock.id);
        const leftMm = spoolsOf.reduce((sum, spool) => sum + Math.max(0, spool.leftMm - spool.takenMm), 0);
        const onOrderMm = own.reduce((sum, { mm, receivedMm }) => sum + Math.max(0, mm - receivedMm), 0);
        const used = past.used.get(stock.id) ?? [];
        const days = past.days.slice(past.days.length - used.length);
        const pattern = usePattern(
          days.map(({ weekday, month }, i) => ({ weekday, month, usedMm: used[i] ?? 0 })),
          past.spanDays,
        );
        const until: UseUntil[] = pattern ? useAhead(pattern, ahead) : ahead.map(() => ({ mean: 0, spread: 0 }));
        const queuedMm = queued.get(stock.id) ?? ahead.map(() => 0);
        const packMm = stock.packMm ?? lastReceivedMm(shop.db, stock.id) ?? DEFAULT_PACK_MM;
        const leadDays = stock.leadDays ?? orderAheadDays;
        const { coverDays, leastMm } = stock;
        const advice = orderAdvice(
          until,
          { leftMm, onOrderMm, queuedUntil: queuedMm },
          { leadDays, coverDays, leastMm, packMm },
        );
        const widthMm = spoolsOf[0]?.widthMm ?? stock.widthMm;
        return {
          stockId: stock.id,
          leftMm,
          queuedMm: queuedMm.at(-1) ?? 0,
          onOrderMm,
          orders: own.map(({ id, mm, receivedMm, orderedMs }) => ({ id, mm, receivedMm, orderedMs })),
          known: pattern ? (pattern.isFewData ? 'few data' : 'forecast') : 'nothing used',
          perDayMm: (until[A_WEEK - 1]?.mean ?? 0) / A_WEEK,
          lasts: daysLasting(until, leftMm, queuedMm),
          order: {
            isDue: advice.isDue && (pattern !== undefined || (queuedMm.at(-1) ?? 0) > 0 || leastMm > 0),
            byMs: advice.dueInDays === null ? null : (ahead[advice.dueInDays]?.fromMs ?? null),
            reorderPointMm: advice.reorderPointMm,
            packMm,
            packs: advice.packs,
            mm: advice.orderMm,
            costMinor: Math.round(((advice.orderMm * widthMm) / 1e6) * stock.pricePerM2Minor),
            leadDays,
            coverDays,
            leastMm,
          },
          used: days.slice(-DRAWN_BACK).map(({ fromMs }, i, shown) => ({
            atMs: fromMs,
            mm: used[used.length - shown.length + i] ?? 0,
          })),
          ahead: ahead.map(({ fromMs }, i) => {
            const { mean = 0, spread = 0 } = until[i] ?? {};
            return {
              atMs: fromMs,
              meanMm: mean,
              lowMm: Math.max(0, mean - SPREADS * spread),
              highMm: mean + SPREADS * spread,
              queuedMm: queuedMm[i] ?? 0,
            };
          }),
        };
      }),
  };
}

/** What queued runs take of each stock until the end of each open day, by the plan of the Floor; what it has no room for counts with the last. */
function queuedUntil(shop: Shop, floor: Floor, ahead: readonly OpenDay[]): Map<string, number[]> {
  const { lines } = plannedWithPurges(shop, floor).plan;
  const endMs = new Map<string, number>();
  for (const { events } of lines.values()) {
    for (const event of events) if (event.kind === 'run') endMs.set(event.id, event.toMs);
  }
  const all = new Map<string, number[]>();
  for (const run of floor.runs) {
    if (run.state !== 'queued' || run.needMm <= 0) continue;
    const own = all.get(run.stockId) ?? ahead.map(() => 0);
    all.set(run.stockId, own);
    const end = endMs.get(run.id) ?? Infinity;
    for (const [i] of ahead.entries()) {
      const until = ahead[i + 1]?.fromMs ?? Infinity;
      if (end < until) own[i] = (own[i] ?? 0) + run.needMm;
    }
  }
  return all;
}

/** How long the last roll or pack was that came: what it is bought in, as long as nobody has said. */
function lastReceivedMm(db: Reader, stockId: string): number | undefined {
  const last = db
    .select({ id: spools.id })
    .from(spools)
    .where(and(eq(spools.stockId, stockId), ne(spools.kind, 'offcut')))
    .orderBy(desc(sql`rowid`))
    .limit(1)
    .get();
  if (!last) return undefined;
  const received = db
    .select({ mm: sum(spoolLedger.mm).mapWith(Number) })
    .from(spoolLedger)
    .where(and(eq(spoolLedger.spoolId, last.id), eq(spoolLedger.kind, 'received')))
    .get();
  return received?.mm ?? undefined;
}
