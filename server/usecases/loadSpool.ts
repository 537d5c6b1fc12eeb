import { and, eq, inArray } from 'drizzle-orm';
import { printers, runs, spools, stocks } from '../db/schema.ts';
import type { Reader } from '../db/open.ts';
import { otherSide } from '../db/runViews.ts';
import { Refused, type Shop, transact } from '../shop.ts';
import { isBack } from './backSide.ts';
import type { RunRow } from './moveRun.ts';

/** A back whose front is on the printer or printed: its media is that one, and no other. */
function waitsOnFedMedia(db: Reader, run: RunRow): boolean {
  if (run.pairId === null || !isBack(run)) return false;
  const front = otherSide(db, run.pairId, run.id);
  return front !== undefined && !['draft', 'queued'].includes(front.state);
}

/** Puts a spool into a printer's source; what was there goes back to the rack. */
export function loadSpool(shop: Shop, spoolId: string, printerId: string, sourceId: string, who: string): void {
  transact(shop, (work) => {
    const { tx } = work;
    const spool = tx.select().from(spools).where(eq(spools.id, spoolId)).get();
    const printer = tx.select().from(printers).where(eq(printers.id, printerId)).get();
    if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${spoolId}.`);
    const source = printer?.config.sources.find((s) => s.id === sourceId);
    if (!printer || !source)
      throw new Refused(404, 'no-such-source', `There is no source ${sourceId} on ${printerId}.`);
    const stock = tx.select().from(stocks).where(eq(stocks.id, spool.stockId)).get();
    if (stock && stock.widthMm > printer.config.widestMediaMm) {
      throw new Refused(
        409,
        'too-wide',
        `${stock.name} is wider than ${printer.name} takes: ${String(stock.widthMm)} mm of ${String(printer.config.widestMediaMm)} mm.`,
      );
    }
    const inSource = tx
      .select()
      .from(spools)
      .where(and(eq(spools.printerId, printerId), eq(spools.sourceId, sourceId)))
      .get();
    for (const moved of [spool, inSource]) {
      const busy =
        moved &&
        tx
          .select()
          .from(runs)
          .where(and(eq(runs.spoolId, moved.id), inArray(runs.state, ['sent', 'printing', 'paused'])))
          .get();
      if (busy) throw new Refused(409, 'printing', `${moved.label} is being printed on; wait until the run has ended.`);
    }
    if (inSource?.id === spoolId) return;
    if (inSource) {
      tx.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.id, inSource.id)).run();
      work.touch({ type: 'spool', id: inSource.id });
    }
    if (spool.printerId !== null) work.touch({ type: 'printer', id: spool.printerId });
    tx.update(spools).set({ printerId, sourceId }).where(eq(spools.id, spoolId)).run();
    // Runs that wait for this stock take the spool that is there now.
    const waiting = tx
      .select()
      .from(runs)
      .where(and(eq(runs.printerId, printerId), inArray(runs.state, ['draft', 'queued'])))
      .all();
    for (const run of waiting) {
      const fits = run.ticket.stockId === spool.stockId;
      const lost = inSource !== undefined && run.spoolId === inSource.id;
      if (!fits && !lost) continue;
      if (waitsOnFedMedia(tx, run)) {
        // Printed media is no other roll of the same stock; and what was confirmed is not in the printer any more.
        tx.update(runs)
          .set({ side: run.side && { ...run.side, confirmedMs: null } })
          .where(eq(runs.id, run.id))
          .run();
        work.touch({ type: 'run', id: run.id });
        continue;
      }
      tx.update(runs)
        .set({ spoolId: fits ? spoolId : null })
        .where(eq(runs.id, run.id))
        .run();
      work.touch({ type: 'run', id: run.id });
    }
    work.touch({ type: 'spool', id: spoolId }, { type: 'printer', id: printerId });
    work.note({
      kind: 'spool.loaded',
      subject: ['spool', spoolId],
      who,
      text: `${spool.label} (${stock?.name ?? ''}) loaded on ${printer.name}, ${source.name}`,
    });
  });
  shop.kick();
}
