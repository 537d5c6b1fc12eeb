import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { type Fact, QUANTITY_NAMES, type Quantity } from '../../../core/pace/quantities.ts';
import type { DayHours } from '../../../core/schedule/shopHours.ts';

const amount = (name: string) => integer(name).notNull().default(0);

/** A column for each quantity: whole numbers, so that what is added and taken away again leaves nothing behind. */
function amountColumns(): Record<Quantity, ReturnType<typeof amount>> {
  return Object.fromEntries(QUANTITY_NAMES.map((name) => [name, amount(columnName(name))])) as Record<
    Quantity,
    ReturnType<typeof amount>
  >;
}

/** `goodMm2` is `good_mm2` in the database. */
function columnName(name: Quantity): string {
  return name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}

const factKeys = () => ({
  printerId: text('printer_id').notNull(),
  stockId: text('stock_id').notNull(),
  queueId: text('queue_id').notNull(),
  modeId: text('mode_id').notNull(),
  customer: text('customer').notNull(),
});

/**
 * What happened, with figures and no sentences. Made from attempts, spells, care, ledgers and jobs, and can be made from them again:
 * nothing else writes here.
 */
export const facts = sqliteTable(
  'facts',
  {
    id: text('id').primaryKey(),
    /** What it was made from: all facts of a source are made anew together. */
    source: text('source').notNull(),
    kind: text('kind').$type<Fact['kind']>().notNull(),
    fromMs: integer('from_ms').notNull(),
    toMs: integer('to_ms').notNull(),
    ...factKeys(),
    runId: text('run_id').notNull(),
    jobId: text('job_id').notNull(),
    ...amountColumns(),
  },
  (t) => [index('fact_source').on(t.source), index('fact_time').on(t.kind, t.toMs)],
);

/** Facts added up by hours and by days of the shop, and by what they belong to. */
export const factParts = sqliteTable(
  'fact_parts',
  {
    grain: text('grain').$type<'hour' | 'day'>().notNull(),
    fromMs: integer('from_ms').notNull(),
    ...factKeys(),
    ...amountColumns(),
  },
  (t) => [primaryKey({ columns: [t.grain, t.fromMs, t.printerId, t.stockId, t.queueId, t.modeId, t.customer] })],
);

/** Sources whose facts have to be made, or made anew. Triggers of the database put them here. */
export const factsDue = sqliteTable(
  'facts_due',
  {
    kind: text('kind').$type<Fact['kind']>().notNull(),
    key: text('key').notNull(),
  },
  (t) => [primaryKey({ columns: [t.kind, t.key] })],
);

/** The hours of the shop as they were from an instant on: planned time of the past goes by those of then. */
export const hoursHistory = sqliteTable('hours_history', {
  fromMs: integer('from_ms').primaryKey(),
  zone: text('zone').notNull(),
  days: text('days', { mode: 'json' }).$type<readonly DayHours[]>().notNull(),
  holidays: text('holidays', { mode: 'json' })
    .$type<readonly { readonly date: string; readonly name: string }[]>()
    .notNull(),
});

/** A row of sums that came to nothing. */
export const IS_NOTHING = sql.raw(QUANTITY_NAMES.map((name) => `${columnName(name)} = 0`).join(' AND '));
