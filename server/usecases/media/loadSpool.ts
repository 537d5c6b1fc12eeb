import { findPrinter } from '../../db/findRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray } from 'drizzle-orm';
import type { LoadSpool } from '../../../contract/api/floor.ts';
import type { MachineSource } from '../../../contract/machine/about.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { careItems } from '../../db/tables/careTables.ts';
import { fitsSource } from '../../../core/stock/form.ts';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { runs } from '../../db/tables/schema.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import type { Reader } from '../../db/open.ts';
import { NARROWER_MM } from '../../../core/flow/startCheck.ts';
import { runName } from '../../../core/flow/runName.ts';
import { otherSide } from '../../db/runViews.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { isBack } from '../layout/relayBack.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { syncMedia } from '../device/syncMedia.ts';
import { mmText } from '../../../core/units/lengthText.ts';

/** A back whose front is on the printer or printed: its media is that one, and no other. */
function waitsOnFedMedia(db: Reader, run: RunRow): boolean {
  if (run.pairId === null || !isBack(run)) return false;
  const front = otherSide(db, run.pairId, run.id);
  return front !== undefined && !['draft', 'queued'].includes(front.state);
}

function mustBeFree(db: Reader, moved: readonly (typeof spools.$inferSelect)[]): void {
  for (const { id, label } of moved) {
    const busy = db
      .select()
      .from(runs)
      .where(and(eq(runs.spoolId, id), inArray(runs.state, ['sent', 'printing', 'paused'])))
      .get();
    if (busy) throw new Refused(409, 'printing', `${label} is being printed on; wait until the run has ended.`);
    const cared = db
      .select({ title: careItems.title })
      .from(careItems)
      .where(and(eq(careItems.spoolId, id), inArray(careItems.state, [...CARE_STATES_ON_PRINTER])))
      .get();
    if (cared) {
      throw new Refused(409, 'printing', `A ${cared.title} is being printed on ${label}; wait until it has ended.`);
    }
  }
}

/** Further off than this it is another roll (mm). */
const ODD_WIDTH_MM = 6;

/** Puts a spool into a printer's source; what was there goes back to the rack. */
export async function loadSpool(shop: Shop, spoolId: string, order: LoadSpool, actor: Actor): Promise<void> {
  const { printerId, sourceId } = order;
  const from = transact(shop, (work) => {
    const { tx } = work;
    const spool = tx.select().from(spools).where(eq(spools.id, spoolId)).get();
    const printer = findPrinter(tx, printerId);
    if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${spoolId}.`);
    const source = printer?.config.sources.find((s) => s.id === sourceId);
    if (spool.gone) {
      throw new Refused(
        409,
        'retired',
        `${spool.label} was taken off the rack for good.`,
        undefined,
        'Put it back on the rack first, if it is there after all.',
      );
    }
    if (!printer || !source)
      throw new Refused(404, 'no-such-source', `There is no source ${sourceId} on ${printerId}.`);
    const stock = tx.select().from(stocks).where(eq(stocks.id, spool.stockId)).get();
    if (!stock) throw new Error(`the stock of ${spoolId} is missing`);
    mustTake(printer, source, stock, order.widthMm ?? spool.widthMm ?? stock.widthMm);
    const inSource = tx
      .select()
      .from(spools)
      .where(and(eq(spools.printerId, printerId), eq(spools.sourceId, sourceId)))
      .get();
    // An empty roll is changed in the middle of its run; nothing else is taken away under one.
    const empty = inSource && inSource.id !== spoolId && printer.linkReason === 'media out' ? inSource : undefined;
    mustBeFree(tx, inSource && !empty ? [spool, inSource] : [spool]);
    keepMeasured(work, spool, order, actor);
    if (inSource?.id === spoolId) {
      work.touch({ type: 'spool', id: spoolId }, { type: 'printer', id: printerId });
      work.note({
        kind: 'spool.measured',
        subject: ['spool', spoolId],
        actor,
        data: { spool: spool.label, printer: printer.name, source: source.name },
      });
      return undefined;
    }
    if (empty) ranOut(work, empty, spool, stock, order.widthMm ?? spool.widthMm ?? stock.widthMm);
    if (inSource) {
      tx.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.id, inSource.id)).run();
      work.touch({ type: 'spool', id: inSource.id });
    }
    if (spool.printerId !== null) work.touch({ type: 'printer', id: spool.printerId });
    feedLeader(work, spool, stock);
    const { takeUp = null } = order;
    tx.update(spools).set({ printerId, sourceId, takeUp }).where(eq(spools.id, spoolId)).run();
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
      actor,
      data: { spool: spool.label, stock: stock.name, printer: printer.name, source: source.name },
    });
    return spool.printerId ?? undefined;
  });
  await tellDevice(shop, printerId);
  if (from !== undefined && from !== printerId) await tellDevice(shop, from);
  shop.wakeDispatcher();
}

/** What is fed until a roll that was just loaded prints. */
function feedLeader(
  { tx, nowMs }: Work,
  { id: spoolId }: typeof spools.$inferSelect,
  { form, leaderMm }: typeof stocks.$inferSelect,
): void {
  const mm = form === 'roll' ? Math.min(leaderMm, Math.max(0, spoolLeftMm(tx, spoolId))) : 0;
  if (mm > 0) tx.insert(spoolLedger).values({ spoolId, kind: 'leader', mm: -mm, atMs: nowMs }).run();
}

/** A roll that ran out under a run: what it gave is booked on it, the rest comes from the next one. */
function ranOut(
  work: Work,
  empty: typeof spools.$inferSelect,
  next: typeof spools.$inferSelect,
  stock: typeof stocks.$inferSelect,
  widthMm: number,
): void {
  const { tx, nowMs } = work;
  const run = tx
    .select()
    .from(runs)
    .where(and(eq(runs.spoolId, empty.id), eq(runs.state, 'paused')))
    .get();
  if (!run) return;
  const other = stock.id !== run.ticket.stockId;
  if (other || widthMm < run.mediaWidthMm - NARROWER_MM) {
    throw new Refused(
      409,
      other ? 'wrong-stock' : 'narrow',
      other
        ? `${runName(run.number)} is in the middle of another stock than ${stock.name}.`
        : `${next.label} is ${mmText(widthMm, 0)} wide; ${runName(run.number)} is laid out for ${mmText(run.mediaWidthMm, 0)}.`,
      undefined,
      'Load the same stock, or cancel the run and print its rest.',
    );
  }
  const fedMm = (run.fedMm ?? 0) - run.bookedMm;
  const entry = { spoolId: empty.id, runId: run.id, atMs: nowMs };
  if (fedMm > 0)
    tx.insert(spoolLedger)
      .values({ ...entry, kind: 'run', mm: -fedMm })
      .run();
  const left = spoolLeftMm(tx, empty.id);
  const reason = `ran out in ${runName(run.number)}`;
  if (Math.abs(left) >= 1)
    tx.insert(spoolLedger)
      .values({ ...entry, kind: 'correction', mm: -left, reason })
      .run();
  tx.update(runs)
    .set({ spoolId: next.id, bookedMm: run.bookedMm + fedMm })
    .where(eq(runs.id, run.id))
    .run();
  work.touch({ type: 'run', id: run.id });
}

/** What can't be put into this source, with its figures. */
function mustTake(
  printer: typeof printers.$inferSelect,
  source: MachineSource,
  stock: typeof stocks.$inferSelect,
  widthMm: number,
): void {
  const { config, name } = printer;
  const refuse = (code: string, text: string, remedy?: string): never => {
    throw new Refused(409, code, text, { widthMm }, remedy);
  };
  if (!fitsSource(stock.form, source.kind)) {
    refuse('wrong-source', `${stock.name} does not go into a ${source.kind}: ${name}, ${source.name}.`);
  }
  if (source.kind === 'bed') return;
  if (widthMm > config.widestMediaMm) {
    refuse(
      'too-wide',
      `${stock.name} is wider than ${name} takes: ${mmText(widthMm)} of ${mmText(config.widestMediaMm)}.`,
    );
  }
  if (widthMm < config.narrowestMediaMm) {
    refuse(
      'too-narrow',
      `${stock.name} is narrower than ${name} takes: ${mmText(widthMm)}, at least ${mmText(config.narrowestMediaMm)}.`,
    );
  }
  // A roll that is far from what its stock says is another roll, or measured wrongly.
  if (Math.abs(widthMm - stock.widthMm) > ODD_WIDTH_MM) {
    refuse(
      'odd-width',
      `${stock.name} is ${mmText(stock.widthMm)} wide, and this measures ${mmText(widthMm)}.`,
      'Check which roll it is, or choose another stock.',
    );
  }
}

/** Width and length as a person measured them; the ledger is put right, never overwritten. */
function keepMeasured({ tx, nowMs }: Work, spool: typeof spools.$inferSelect, order: LoadSpool, actor: Actor): void {
  const { widthMm, lengthMm, takeUp } = order;
  if (widthMm !== undefined) tx.update(spools).set({ widthMm }).where(eq(spools.id, spool.id)).run();
  if (takeUp !== undefined) tx.update(spools).set({ takeUp }).where(eq(spools.id, spool.id)).run();
  if (lengthMm === undefined) return;
  // As it is on the printer: what a run has fed and not booked yet is gone from it.
  const mm = lengthMm - (spoolViews(tx, { id: spool.id })[0]?.leftMm ?? spoolLeftMm(tx, spool.id));
  if (Math.abs(mm) < 1) return;
  tx.insert(spoolLedger)
    .values({ spoolId: spool.id, kind: 'correction', mm, atMs: nowMs, reason: `measured at loading by ${actor.name}` })
    .run();
}

/** Takes a spool out of its printer; it goes to the rack. */
export async function unloadSpool(shop: Shop, spoolId: string, actor: Actor): Promise<void> {
  const printerId = transact(shop, (work) => {
    const { tx } = work;
    const spool = tx.select().from(spools).where(eq(spools.id, spoolId)).get();
    if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${spoolId}.`);
    if (spool.printerId === null) throw new Refused(409, 'not-loaded', `${spool.label} is in no printer.`);
    mustBeFree(tx, [spool]);
    tx.update(spools).set({ printerId: null, sourceId: null, takeUp: null }).where(eq(spools.id, spoolId)).run();
    for (const run of tx.select().from(runs).where(eq(runs.spoolId, spoolId)).all()) {
      if (!['draft', 'queued'].includes(run.state)) continue;
      if (waitsOnFedMedia(tx, run)) {
        tx.update(runs)
          .set({ side: run.side && { ...run.side, confirmedMs: null } })
          .where(eq(runs.id, run.id))
          .run();
      } else tx.update(runs).set({ spoolId: null }).where(eq(runs.id, run.id)).run();
      work.touch({ type: 'run', id: run.id });
    }
    work.touch({ type: 'spool', id: spoolId }, { type: 'printer', id: spool.printerId });
    work.note({
      kind: 'spool.unloaded',
      subject: ['spool', spoolId],
      actor,
      data: { spool: spool.label },
      undo: {
        label: 'Load again',
        method: 'POST',
        path: `/api/spools/${spoolId}/load`,
        body: { printerId: spool.printerId, sourceId: spool.sourceId, takeUp: spool.takeUp },
      },
    });
    return spool.printerId;
  });
  await tellDevice(shop, printerId);
}

/** The device hears of it at once; where its line is dead it does when that is back. */
async function tellDevice(shop: Shop, printerId: string): Promise<void> {
  const printer = findPrinter(shop.db, printerId);
  if (!printer || printer.linkStatus === 'off') return;
  const status = printer.linkStatus;
  const media = [...(printer.measured?.media ?? [])];
  try {
    await syncMedia(shop, printerId, { machineId: printerId, seq: 0, atMs: 0, status, reason: null, media, run: null });
  } catch (error) {
    shop.log.warn({ err: error, printerId }, 'the printer did not hear of what was loaded; it is told again');
  }
}
