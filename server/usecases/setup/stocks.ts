import { findPrinter } from '../../db/findRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray, lt, sql } from 'drizzle-orm';
import type { StockChange, StockSettingsBulk, StockSettingsChanges } from '../../../contract/api/setup.ts';
import { type TicketKey, type TicketPart, sameValue } from '../../../core/ticket/ticket.ts';
import { batches } from '../../db/batches.ts';
import { printers, stockSettings, stockSettingsChanges, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';

/** A new stock, like one that is here until it is changed. */
export function createStock(shop: Shop, wanted: string, likeId: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { tx } = work;
    const like = stockRow(work, likeId);
    const name = freeName(work, wanted, undefined);
    const id = newId('stock');
    tx.insert(stocks)
      // Its cartons have codes of their own.
      .values({ ...like, id, name, codes: [] })
      .run();
    const own = tx.select().from(stockSettings).where(eq(stockSettings.stockId, likeId)).all();
    for (const row of own)
      tx.insert(stockSettings)
        .values({ ...row, stockId: id })
        .run();
    work.touch({ type: 'stock', id });
    work.note({ kind: 'stock.made', subject: ['stock', id], actor, data: { stock: name, like: like.name } });
    return id;
  });
}

/** What a stock is; spools keep the width that was measured on them. */
export function changeStock(shop: Shop, id: string, change: StockChange, actor: Actor): void {
  transact(shop, (work) => {
    const before = stockRow(work, id);
    const { name: wanted, sheetMm, suits, leadDays, packMm, codes, ...plain } = change;
    const next = {
      ...before,
      ...plain,
      name: wanted === undefined ? before.name : freeName(work, wanted, id),
      sheetMm: sheetMm === undefined ? before.sheetMm : sheetMm,
      suits: suits === undefined ? before.suits : suits,
      leadDays: leadDays === undefined ? before.leadDays : leadDays,
      packMm: packMm === undefined ? before.packMm : packMm,
      codes: codes === undefined ? before.codes : freeCodes(work, codes, id),
    };
    work.tx.update(stocks).set(next).where(eq(stocks.id, id)).run();
    work.touch({ type: 'stock', id });
    const { id: _id, form: _form, codes: ofBefore, ...old } = before;
    work.note({
      kind: 'stock.changed',
      subject: ['stock', id],
      actor,
      data: { stock: next.name },
      undo: { label: 'Undo', method: 'PATCH', path: `/api/stocks/${id}`, body: { ...old, codes: [...ofBefore] } },
    });
  });
}

/** The stock whose cartons have a code; case does not count. */
function stockOfCode({ tx }: Work, code: string): typeof stocks.$inferSelect | undefined {
  const all = tx.select().from(stocks).all();
  return all.find(({ codes }) => codes.some((each) => each.toLowerCase() === code.toLowerCase()));
}

/** A code says which stock it is: it can't stand for two. */
function freeCodes(work: Work, codes: readonly string[], stockId: string): string[] {
  const own = new Map(codes.map((code) => [code.trim().toLowerCase(), code.trim()]));
  for (const code of own.values()) {
    const other = stockOfCode(work, code);
    if (other && other.id !== stockId) {
      throw new Refused(
        409,
        'code-taken',
        `${code} is a code of ${other.name}.`,
        undefined,
        'Take it off there first.',
      );
    }
  }
  return [...own.values()];
}

/** Remembers what was scanned off a carton for the stock that a person said it is; part of a transaction of the caller's. */
export function rememberCode(work: Work, stock: typeof stocks.$inferSelect, code: string): void {
  if (code.trim() === '') return;
  const codes = freeCodes(work, [...stock.codes, code], stock.id);
  if (codes.length === stock.codes.length) return;
  work.tx.update(stocks).set({ codes }).where(eq(stocks.id, stock.id)).run();
  work.touch({ type: 'stock', id: stock.id });
}

/** Run settings of one stock on one printer, whole; what is empty says nothing. */
export function setStockSettings(
  shop: Shop,
  stockId: string,
  printerId: string,
  settings: TicketPart,
  actor: Actor,
): void {
  transact(shop, (work) => {
    const stock = stockRow(work, stockId);
    const printer = findPrinter(work.tx, printerId);
    if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
    const before = settingsOf(work, stockId, printerId);
    keep(work, stockId, printerId, settings);
    work.touch({ type: 'stock', id: stockId });
    work.note({
      kind: 'stock.settings',
      subject: ['stock', stockId],
      actor,
      data: { stock: stock.name, printer: printer.name },
      undo: {
        label: 'Undo',
        method: 'PUT',
        path: `/api/stocks/${stockId}/settings`,
        body: { printerId, settings: before },
      },
    });
  });
}

/**
 * One setting for many stocks on many printers. Says each value that changes, before and after; as a preview it changes
 * none of them.
 */
export function bulkStockSettings(shop: Shop, order: StockSettingsBulk, actor: Actor): StockSettingsChanges {
  return transact(shop, (work) => {
    const { tx } = work;
    const stockRows = tx.select().from(stocks).where(inArray(stocks.id, order.stockIds)).all();
    const printerRows = tx.select().from(printers).where(inArray(printers.id, order.printerIds)).all();
    const pairs = order.pairs && new Set(order.pairs.map(({ stockId, printerId }) => `${stockId}/${printerId}`));
    const changes: StockSettingsChanges['changes'] = [];
    const changeId = newId('chg');
    const kept: SettingsChange[] = [];
    for (const stock of stockRows) {
      for (const printer of printerRows) {
        if (pairs && !pairs.has(`${stock.id}/${printer.id}`)) continue;
        const before = settingsOf(work, stock.id, printer.id);
        const left = Object.entries(before).filter(([key]) => !order.clear.includes(key));
        const after: TicketPart = { ...Object.fromEntries(left), ...order.set };
        const own = changedKeys(before, after);
        for (const key of own) {
          changes.push({
            stockId: stock.id,
            stockName: stock.name,
            printerId: printer.id,
            printerName: printer.name,
            key,
            before: before[key] ?? null,
            after: after[key] ?? null,
          });
        }
        if (order.preview || own.length === 0) continue;
        keep(work, stock.id, printer.id, after);
        kept.push({ changeId, stockId: stock.id, printerId: printer.id, before, after });
        work.touch({ type: 'stock', id: stock.id });
      }
    }
    if (!order.preview && changes.length > 0) {
      const n = new Set(changes.map(({ stockId }) => stockId)).size;
      keepChange(work, kept);
      work.note({
        kind: 'stocks.settings',
        subject: ['shop', 'stocks'],
        actor,
        data: { changes: changes.length, stocks: n },
        undo: undoOf(changeId),
      });
    }
    return { changes };
  });
}

type SettingsChange = Omit<typeof stockSettingsChanges.$inferSelect, 'id'>;

/** So many rows of changes can still be undone. */
const KEPT_ROWS = 200_000;

function keepChange({ tx }: Work, rows: readonly SettingsChange[]): void {
  for (const batch of batches(rows)) tx.insert(stockSettingsChanges).values(batch).run();
  const last =
    tx
      .select({ id: sql<number>`max(${stockSettingsChanges.id})` })
      .from(stockSettingsChanges)
      .get()?.id ?? 0;
  tx.delete(stockSettingsChanges)
    .where(lt(stockSettingsChanges.id, last - KEPT_ROWS))
    .run();
}

function undoOf(changeId: string) {
  return { label: 'Undo', method: 'POST' as const, path: `/api/stocks/settings/${changeId}/undo` };
}

/**
 * Puts settings back to what they were before a change of many. What somebody has changed since stays as it is.
 * @returns how many rows went back and how many stayed; going back can be undone, too
 */
export function undoStockSettings(shop: Shop, changeId: string, actor: Actor): { undone: number; stayed: number } {
  return transact(shop, (work) => {
    const { tx } = work;
    const own = eq(stockSettingsChanges.changeId, changeId);
    const rows = tx.select().from(stockSettingsChanges).where(own).all();
    if (rows.length === 0) throw new Refused(404, 'no-such-change', `There is no change ${changeId}, or it is undone.`);
    const backId = newId('chg');
    const back = rows.flatMap(({ stockId, printerId, before, after }): SettingsChange[] => {
      if (changedKeys(after, settingsOf(work, stockId, printerId)).length > 0) return [];
      keep(work, stockId, printerId, before);
      work.touch({ type: 'stock', id: stockId });
      return [{ changeId: backId, stockId, printerId, before: after, after: before }];
    });
    if (back.length === 0)
      throw new Refused(409, 'changed-since', 'Each of these settings has been changed since; none is put back.');
    tx.delete(stockSettingsChanges).where(own).run();
    keepChange(work, back);
    const stayed = rows.length - back.length;
    work.note({
      kind: 'stocks.settings-undone',
      subject: ['shop', 'stocks'],
      actor,
      data: { rows: back.length, stayed },
      undo: { ...undoOf(backId), label: 'Redo' },
    });
    return { undone: back.length, stayed };
  });
}

function changedKeys(before: TicketPart, after: TicketPart): TicketKey[] {
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])] as TicketKey[];
  return keys.filter((key) => !sameValue(before[key], after[key]));
}

function settingsOf({ tx }: Work, stockId: string, printerId: string): TicketPart {
  const at = and(eq(stockSettings.stockId, stockId), eq(stockSettings.printerId, printerId));
  return tx.select().from(stockSettings).where(at).get()?.settings ?? {};
}

function keep({ tx }: Work, stockId: string, printerId: string, settings: TicketPart): void {
  tx.insert(stockSettings)
    .values({ stockId, printerId, settings })
    .onConflictDoUpdate({ target: [stockSettings.printerId, stockSettings.stockId], set: { settings } })
    .run();
}

function stockRow({ tx }: Work, id: string): typeof stocks.$inferSelect {
  const stock = tx.select().from(stocks).where(eq(stocks.id, id)).get();
  if (!stock) throw new Refused(404, 'no-such-stock', `There is no stock ${id}.`);
  return stock;
}

function freeName({ tx }: Work, wanted: string, own: string | undefined): string {
  const name = wanted.trim();
  const taken = tx
    .select({ id: stocks.id })
    .from(stocks)
    .where(sql`lower(${stocks.name}) = ${name.toLowerCase()}`)
    .get();
  if (taken && taken.id !== own) {
    throw new Refused(409, 'name-taken', `A stock is called ${name} already.`, undefined, 'Choose another name.');
  }
  return name;
}
