import { and, eq } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import { FEED_NOMINAL_MM, feedFactor } from '../../../core/heads/feedCheck.ts';
import { mmText } from '../../../core/units/lengthText.ts';
import { feedFactors } from '../../db/tables/headTables.ts';
import type { Reader } from '../../db/open.ts';
import { type printers, spools, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { carePrinter } from '../care/careWork.ts';

type PrinterRow = typeof printers.$inferSelect;

function feedRow(db: Reader, printerId: string, stockId: string) {
  return db
    .select()
    .from(feedFactors)
    .where(and(eq(feedFactors.printerId, printerId), eq(feedFactors.stockId, stockId)))
    .get();
}

/** By what the advance of a printer is divided on a stock: 1 where nobody has measured it. */
export function feedFactorOf(db: Reader, printerId: string, stockId: string): number {
  return feedRow(db, printerId, stockId)?.factor ?? 1;
}

/** Two bars were printed: they wait to be measured, or the device has measured them. */
export function feedPrinted(
  work: Work,
  printer: PrinterRow,
  stockId: string,
  printed: { readonly spoolId: string | null; readonly atMs: number; readonly measuredMm: number | undefined },
  actor: Actor,
): void {
  const { tx } = work;
  const { spoolId, atMs, measuredMm } = printed;
  const takeUp =
    spoolId === null ? null : (tx.select().from(spools).where(eq(spools.id, spoolId)).get()?.takeUp ?? null);
  const set = { takeUp, toMeasureMs: atMs };
  tx.insert(feedFactors)
    .values({ printerId: printer.id, stockId, ...set })
    .onConflictDoUpdate({ target: [feedFactors.printerId, feedFactors.stockId], set })
    .run();
  if (measuredMm !== undefined) keepMeasured(work, printer, stockId, measuredMm, actor);
  work.touch({ type: 'printer', id: printer.id });
}

/** A person has measured how far the bars of a feed check lie apart. */
export function measureFeed(
  shop: Shop,
  printerId: string,
  { stockId, measuredMm }: { readonly stockId: string; readonly measuredMm: number },
  actor: Actor,
): void {
  transact(shop, (work) => {
    keepMeasured(work, carePrinter(work.tx, printerId), stockId, measuredMm, actor);
  });
}

function keepMeasured(work: Work, printer: PrinterRow, stockId: string, measuredMm: number, actor: Actor): void {
  const { tx, nowMs } = work;
  const stock = tx.select().from(stocks).where(eq(stocks.id, stockId)).get();
  if (!stock) throw new Refused(404, 'no-such-stock', `There is no stock ${stockId}.`);
  if (!feedRow(tx, printer.id, stockId)) {
    throw new Refused(
      409,
      'no-feed-check',
      `No feed check was printed on ${stock.name} by ${printer.name}.`,
      undefined,
      'Print one first: two bars whose distance you measure.',
    );
  }
  const factor = feedFactor(measuredMm);
  if (!factor.ok) {
    const { leastMm, mostMm } = factor.reason;
    throw new Refused(
      422,
      factor.reason.code,
      `${mmText(measuredMm)} can't be: the bars are meant to lie ${mmText(FEED_NOMINAL_MM)} apart, and a feed is off by 2 % at most, ${mmText(leastMm)} to ${mmText(mostMm)}.`,
      { measuredMm, leastMm, mostMm },
      'Measure from the leading edge of one bar to that of the other.',
    );
  }
  tx.update(feedFactors)
    .set({ factor: factor.value, measuredMs: Math.floor(nowMs), toMeasureMs: null })
    .where(and(eq(feedFactors.printerId, printer.id), eq(feedFactors.stockId, stockId)))
    .run();
  work.note({
    kind: 'feed.measured',
    subject: ['printer', printer.id],
    actor,
    data: { printer: printer.name, stock: stock.name, measuredMm },
  });
  work.touch({ type: 'printer', id: printer.id });
}

/** How each stock that is loaded on a printer is fed, and whether that should be measured anew. */
export function feedsOf(db: Reader, printerId: string) {
  const loaded = db
    .select({ spool: spools, stock: stocks })
    .from(spools)
    .innerJoin(stocks, eq(stocks.id, spools.stockId))
    .where(eq(spools.printerId, printerId))
    .all();
  const seen = new Set<string>();
  return loaded.flatMap(({ spool, stock }) => {
    if (seen.has(stock.id) || stock.form !== 'roll') return [];
    seen.add(stock.id);
    const row = feedRow(db, printerId, stock.id);
    return [
      {
        stockId: stock.id,
        stockName: stock.name,
        factor: row?.factor ?? null,
        measuredMs: row?.measuredMs ?? null,
        toMeasure: row?.toMeasureMs != null,
        tensionChanged: row?.factor != null && JSON.stringify(row.takeUp) !== JSON.stringify(spool.takeUp),
      },
    ];
  });
}
