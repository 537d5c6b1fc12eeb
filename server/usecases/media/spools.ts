import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, sum } from 'drizzle-orm';
import type { SpoolCreate } from '../../../contract/api/media/media.ts';
import type { Reader } from '../../db/open.ts';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { rememberCode } from '../setup/stocks.ts';
import { takeOffOrder } from './stockOrders.ts';
import { metresText } from '../../../core/units/lengthText.ts';

type SpoolRow = typeof spools.$inferSelect;

/** A roll, a pack or an offcut that has come into the shop. */
export function receiveSpool(shop: Shop, order: SpoolCreate, actor: Actor): string {
  return transact(shop, (work) => {
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, order.stockId)).get();
    if (!stock) throw new Refused(404, 'no-such-stock', `There is no stock ${order.stockId}.`);
    mustBeFree(work, order.label.trim());
    if (order.code !== undefined) rememberCode(work, stock, order.code);
    return addSpool(work, stock, order, actor);
  });
}

/** Puts media that has come in on the rack, and takes it off what was ordered; part of a transaction of the caller's. */
export function addSpool(
  work: Work,
  stock: typeof stocks.$inferSelect,
  { label, lot, lengthMm, widthMm, kind = 'roll', place = 'rack' }: Omit<SpoolCreate, 'stockId'>,
  actor: Actor,
): string {
  const { tx, nowMs } = work;
  const id = newId('spool');
  tx.insert(spools)
    .values({
      id,
      label: label.trim(),
      lot: lot.trim(),
      stockId: stock.id,
      kind: stock.form === 'roll' ? kind : 'pack',
      widthMm: widthMm ?? null,
      place: place.trim(),
    })
    .run();
  tx.insert(spoolLedger).values({ spoolId: id, kind: 'received', mm: lengthMm, atMs: nowMs }).run();
  if (kind !== 'offcut') takeOffOrder(work, stock.id, lengthMm);
  work.touch({ type: 'spool', id });
  work.note({
    kind: 'spool.received',
    subject: ['spool', id],
    actor,
    data: { spool: label.trim(), stock: stock.name, lengthMm },
  });
  return id;
}

/** Whether a spool has this label, also one that is gone. */
export function isLabelTaken({ tx }: Work, label: string): boolean {
  return tx.select({ id: spools.id }).from(spools).where(eq(spools.label, label)).get() !== undefined;
}

function mustBeFree(work: Work, label: string): void {
  if (!isLabelTaken(work, label)) return;
  throw new Refused(409, 'label-taken', `A spool is labelled ${label} already.`, undefined, 'Choose another label.');
}

/** Puts a ledger right; part of a transaction of the caller's. */
export function bookCorrection(
  work: Work,
  spool: Pick<SpoolRow, 'id' | 'printerId'>,
  mm: number,
  reason: string,
): void {
  work.tx.insert(spoolLedger).values({ spoolId: spool.id, kind: 'correction', mm, atMs: work.nowMs, reason }).run();
  touchSpool(work, spool);
}

/** Less is no length (mm). */
export const LEAST_BOOKED_MM = 0.5;

/** What is really left on a spool, and why the ledger was wrong. */
export function correctSpool(shop: Shop, spoolId: string, leftMm: number, reason: string, actor: Actor): void {
  transact(shop, (work) => {
    const spool = spoolRow(work, spoolId);
    if (reason.trim() === '')
      throw new Refused(422, 'no-reason', 'A correction needs its reason.', undefined, 'Say why the ledger was wrong.');
    const { leftMm: before } = onItNow(work, spool);
    const mm = leftMm - before;
    if (Math.abs(mm) < LEAST_BOOKED_MM) return;
    bookCorrection(work, spool, mm, reason.trim());
    work.note({
      kind: 'spool.corrected',
      subject: ['spool', spoolId],
      actor,
      data: { spool: spool.label, beforeMm: before, leftMm, reason },
      undo: {
        label: 'Undo',
        method: 'POST',
        path: `/api/spools/${spoolId}/correct`,
        body: { leftMm: before, reason: 'correction undone' },
      },
    });
  });
  shop.wakeDispatcher();
}

/** Cuts a usable remainder off a spool, as a spool of its own. */
export function cutOffcut(shop: Shop, spoolId: string, lengthMm: number, label: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { tx, nowMs } = work;
    const spool = spoolRow(work, spoolId);
    const { leftMm: left, takenMm: taken } = onItNow(work, spool);
    if (lengthMm > left - taken) {
      throw new Refused(
        409,
        'too-long',
        taken > 0
          ? `${spool.label} has ${metresText(left)} left, of which the run on the printer still takes ${metresText(taken)}: not ${metresText(lengthMm)}.`
          : `${spool.label} has ${metresText(left)} left, not ${metresText(lengthMm)}.`,
        { leftMm: left, takenMm: taken, lengthMm },
        taken > 0 ? 'Cut it off when the run has ended, or cut off less.' : undefined,
      );
    }
    mustBeFree(work, label.trim());
    const id = newId('spool');
    const { lot, stockId, widthMm } = spool;
    tx.insert(spools).values({ id, label: label.trim(), lot, stockId, widthMm, kind: 'offcut' }).run();
    tx.insert(spoolLedger)
      .values({ spoolId, kind: 'trim', mm: -lengthMm, atMs: nowMs, reason: `cut off as ${label}` })
      .run();
    tx.insert(spoolLedger)
      .values({ spoolId: id, kind: 'received', mm: lengthMm, atMs: nowMs, reason: `cut from ${spool.label}` })
      .run();
    touchSpool(work, spool);
    work.touch({ type: 'spool', id });
    work.note({
      kind: 'spool.offcut',
      subject: ['spool', id],
      actor,
      data: { offcut: label.trim(), spool: spool.label, lengthMm },
    });
    return id;
  });
}

/** Used up or thrown away: it leaves the rack, its history stays. */
export function retireSpool(shop: Shop, spoolId: string, gone: boolean, actor: Actor): void {
  transact(shop, (work) => {
    const spool = spoolRow(work, spoolId);
    if (gone === spool.gone) return;
    if (gone && spool.printerId !== null) {
      throw new Refused(409, 'loaded', `${spool.label} is in a printer.`, undefined, 'Take it out first.');
    }
    work.tx.update(spools).set({ gone }).where(eq(spools.id, spoolId)).run();
    const mm = gone ? -spoolLeftMm(work.tx, spoolId) : -scrappedMm(work.tx, spoolId);
    if (Math.abs(mm) >= LEAST_BOOKED_MM) {
      const reason = gone ? 'thrown away' : 'on the rack again';
      work.tx.insert(spoolLedger).values({ spoolId, kind: 'scrapped', mm, atMs: work.nowMs, reason }).run();
    }
    work.touch({ type: 'spool', id: spoolId });
    work.note({
      kind: gone ? 'spool.gone' : 'spool.back',
      subject: ['spool', spoolId],
      actor,
      data: { spool: spool.label },
      undo: { label: 'Undo', method: 'POST', path: `/api/spools/${spoolId}/${gone ? 'keep' : 'retire'}` },
    });
  });
}

/** What was thrown away of it, and not put back on the rack (mm, below 0). */
function scrappedMm(db: Reader, spoolId: string): number {
  const row = db
    .select({ mm: sum(spoolLedger.mm).mapWith(Number) })
    .from(spoolLedger)
    .where(and(eq(spoolLedger.spoolId, spoolId), eq(spoolLedger.kind, 'scrapped')))
    .get();
  return row?.mm ?? 0;
}

function spoolRow({ tx }: Work, id: string): SpoolRow {
  const spool = tx.select().from(spools).where(eq(spools.id, id)).get();
  if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${id}.`);
  return spool;
}

/**
 * What is on it now: its ledger, less what a run has fed and not booked yet. That is what a person measures; and what of it the run
 * still takes.
 */
function onItNow({ tx }: Work, { id }: SpoolRow): { readonly leftMm: number; readonly takenMm: number } {
  return spoolViews(tx, { id })[0] ?? { leftMm: spoolLeftMm(tx, id), takenMm: 0 };
}

function touchSpool(work: Work, { id, printerId }: Pick<SpoolRow, 'id' | 'printerId'>): void {
  work.touch({ type: 'spool', id });
  if (printerId !== null) work.touch({ type: 'printer', id: printerId });
}
