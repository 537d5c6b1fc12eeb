import { sql } from 'drizzle-orm';
import { blob, index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { StockForm } from '../../../core/stock/form.ts';
import type { TakeUp } from '../../../core/stock/takeUp.ts';
import type { TicketPart } from '../../../core/ticket/ticket.ts';

export const printers = sqliteTable('printers', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  position: integer('position').notNull(),
  config: text('config', { mode: 'json' }).$type<PrinterConfig>().notNull(),
  /** What the link last said; `off` while there is no link. */
  linkStatus: text('link_status')
    .$type<'off' | 'idle' | 'printing' | 'caring' | 'waiting' | 'faulted'>()
    .notNull()
    .default('off'),
  linkReason: text('link_reason'),
  /** What the device last measured itself; null: it does not. */
  measured: text('measured', { mode: 'json' }).$type<Measured>(),
});

export interface Measured {
  readonly media: readonly { readonly sourceId: string; readonly tag: string; readonly widthMm: number }[];
  readonly inkMl: Readonly<Record<string, number>> | null;
  readonly collectedMm: number | null;
  /** When each channel was last fired; left out where the device does not say, or was last heard before it could. */
  readonly firedMs?: Readonly<Record<string, number>>;
}

/** ICC profiles of printers, each called as the modes call it that print by it. */
export const profiles = sqliteTable('profiles', {
  name: text('name').primaryKey(),
  sha256: text('sha256').notNull(),
  /** Such as `CMYK` or `6CLR`. */
  space: text('space').notNull(),
  channels: integer('channels').notNull(),
  bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  /** Of the one that it has replaced; null: it has replaced none. */
  before: blob('before', { mode: 'buffer' }),
});

export const stocks = sqliteTable('stocks', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  widthMm: real('width_mm').notNull(),
  thicknessMm: real('thickness_mm').notNull(),
  coreMm: real('core_mm').notNull(),
  colour: text('colour').notNull(),
  pricePerM2Minor: integer('price_per_m2_minor').notNull(),
  form: text('form').$type<StockForm>().notNull().default('roll'),
  /** Length of one sheet; of a garment what one counts in the ledger. Null: a roll. */
  sheetMm: real('sheet_mm'),
  /** It can be held against light or dark: every ink shows on it. */
  clear: integer('clear', { mode: 'boolean' }).notNull().default(false),
  /** Modes by printer that suit it; null: whatever takes its width. */
  suits: text('suits', { mode: 'json' }).$type<Readonly<Record<string, readonly string[]>>>(),
  /** A shorter remainder is a stub. */
  usableMm: real('usable_mm').notNull().default(1000),
  /** The share of its worth that an opened spool loses for the trouble that it is. */
  partDiscount: real('part_discount').notNull().default(0.15),
  /** Open days from the order until it is there; null: as many as the shop orders ahead. */
  leadDays: integer('lead_days'),
  /** It is ordered for so many open days beyond that. */
  coverDays: integer('cover_days').notNull().default(10),
  /** So much is always there (mm). */
  leastMm: real('least_mm').notNull().default(0),
  /** It is bought in packs of this length (mm); null: as the last one that came. */
  packMm: real('pack_mm'),
  /** Fed each time a spool of it is loaded, before it prints (mm). */
  leaderMm: real('leader_mm').notNull().default(0),
  /** What stands on its cartons: article numbers and bar codes, by which a delivery is known. */
  codes: text('codes', { mode: 'json' }).$type<string[]>().notNull().default([]),
});

/** Media that was ordered; what comes in of that stock is taken off the oldest that is open. */
export const stockOrders = sqliteTable(
  'stock_orders',
  {
    id: text('id').primaryKey(),
    stockId: text('stock_id')
      .notNull()
      .references(() => stocks.id),
    mm: real('mm').notNull(),
    receivedMm: real('received_mm').notNull().default(0),
    orderedMs: integer('ordered_ms').notNull(),
    /** It is all there, or was given up. */
    closedMs: integer('closed_ms'),
  },
  (t) => [
    index('stock_order_stock').on(t.stockId, t.closedMs),
    index('stock_order_open')
      .on(t.orderedMs)
      .where(sql`closed_ms IS NULL`),
  ],
);

export const spools = sqliteTable(
  'spools',
  {
    id: text('id').primaryKey(),
    label: text('label').notNull(),
    lot: text('lot').notNull(),
    stockId: text('stock_id')
      .notNull()
      .references(() => stocks.id),
    printerId: text('printer_id').references(() => printers.id),
    sourceId: text('source_id'),
    kind: text('kind').$type<'roll' | 'pack' | 'offcut'>().notNull().default('roll'),
    /** As measured; null: as its stock. */
    widthMm: real('width_mm'),
    /** Where it stands when it is in no printer. */
    place: text('place').notNull().default('rack'),
    /** How its printed media is taken up; null: it hangs free. */
    takeUp: text('take_up', { mode: 'json' }).$type<TakeUp>(),
    /** Used up or thrown away: kept for its history. */
    gone: integer('gone', { mode: 'boolean' }).notNull().default(false),
  },
  (t) => [
    uniqueIndex('spool_place').on(t.printerId, t.sourceId),
    index('spool_gone').on(t.gone),
    index('spool_label').on(t.label),
    index('spool_stock').on(t.stockId),
  ],
);

/** Run settings of a stock on one printer: the origin *stock* of a ticket. */
export const stockSettings = sqliteTable(
  'stock_settings',
  {
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    stockId: text('stock_id')
      .notNull()
      .references(() => stocks.id),
    settings: text('settings', { mode: 'json' }).$type<TicketPart>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.stockId] })],
);

/** What a change of many stocks found and what it left, so that it can be undone; the newest changes are kept. */
export const stockSettingsChanges = sqliteTable(
  'stock_settings_changes',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    changeId: text('change_id').notNull(),
    stockId: text('stock_id').notNull(),
    printerId: text('printer_id').notNull(),
    before: text('before', { mode: 'json' }).$type<TicketPart>().notNull(),
    after: text('after', { mode: 'json' }).$type<TicketPart>().notNull(),
  },
  (t) => [index('stock_settings_change').on(t.changeId)],
);
