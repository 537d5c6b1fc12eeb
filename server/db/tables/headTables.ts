import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { ClogSums, StrainForm } from '../../../core/heads/clogLearning.ts';
import type { ChannelFaults } from '../../../core/heads/nozzleFaults.ts';
import type { TakeUp } from '../../../core/stock/takeUp.ts';
import { printers } from './floorTables.ts';

/** Nozzles of one channel as a check found them, and those of which it says nothing. */
export type FoundNozzles = ChannelFaults & { readonly unjudged: readonly number[] };

/** Who has read a check plot, and how. */
export type ReadBy = 'device' | 'eye' | 'photo';

/** Strain of all idle spells of a channel up to an instant, by form, and the longest of those since the check before (h). */
export interface SpellsThen {
  readonly strain: Readonly<Record<StrainForm, number>>;
  readonly longestH: number;
}

/** Check plots that were printed or read: what became of the nozzles of a printer over time. */
export const nozzleChecks = sqliteTable(
  'nozzle_checks',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    id: text('id').notNull().unique(),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    /** The care that printed it; null: read without having been printed from here. */
    careId: text('care_id'),
    /** Channels that it shows. */
    channelIds: text('channel_ids', { mode: 'json' }).$type<readonly string[]>().notNull(),
    printedMs: integer('printed_ms').notNull(),
    /** What had gathered of each channel's idle spells when it was printed. */
    spells: text('spells', { mode: 'json' }).$type<Readonly<Record<string, SpellsThen>>>().notNull(),
    /** Null: it waits to be read. */
    readMs: integer('read_ms'),
    by: text('by').$type<ReadBy>(),
    who: text('who'),
    confidence: real('confidence'),
    found: text('found', { mode: 'json' }).$type<Readonly<Record<string, FoundNozzles>>>(),
  },
  (t) => [uniqueIndex('check_care').on(t.careId), index('check_printed').on(t.printerId, t.printedMs)],
);

/** A care action on one channel since its last check. */
export type HeadAction = 'light' | 'deep' | 'rest';

/** What is known of the nozzles of each channel now, kept with every check and every firing. */
export const channelHeads = sqliteTable(
  'channel_heads',
  {
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    /** As last read; null: never. */
    faults: text('faults', { mode: 'json' }).$type<ChannelFaults>(),
    checkedMs: integer('checked_ms'),
    /** Strain of all its idle spells, by form, counted up to an instant; how much of it checks have told what came of it. */
    strain: text('strain', { mode: 'json' }).$type<Readonly<Record<StrainForm, number>>>().notNull(),
    learned: text('learned', { mode: 'json' }).$type<Readonly<Record<StrainForm, number>>>().notNull(),
    countedMs: integer('counted_ms').notNull(),
    /** The longest of its idle spells since the last check was printed (h). */
    longestH: real('longest_h').notNull().default(0),
    sums: text('sums', { mode: 'json' }).$type<ClogSums>().notNull(),
    /** What was done to it since its last check. */
    done: text('done', { mode: 'json' }).$type<readonly HeadAction[]>().notNull(),
    /** How often each action failed in a row for the state that it is in. */
    failed: text('failed', { mode: 'json' }).$type<Readonly<Partial<Record<HeadAction, number>>>>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.channelId] })],
);

/** Idle spells that checks closed: of what the curve of a channel is drawn. */
export const clogSpells = sqliteTable(
  'clog_spells',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    endedMs: integer('ended_ms').notNull(),
    idleH: real('idle_h').notNull(),
    clogs: integer('clogs').notNull(),
  },
  (t) => [index('spell_channel').on(t.printerId, t.channelId, t.id)],
);

/** How often each action made a channel fit here. */
export const careOutcomes = sqliteTable(
  'care_outcomes',
  {
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    action: text('action').$type<HeadAction>().notNull(),
    tried: integer('tried').notNull(),
    helped: integer('helped').notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.channelId, t.action] })],
);

/** How far a printer feeds a stock, as it was measured: its advance is divided by the factor. */
export const feedFactors = sqliteTable(
  'feed_factors',
  {
    printerId: text('printer_id').notNull(),
    stockId: text('stock_id').notNull(),
    /** Null: not measured yet. */
    factor: real('factor'),
    measuredMs: integer('measured_ms'),
    /** How the media was taken up when it was printed. */
    takeUp: text('take_up', { mode: 'json' }).$type<TakeUp>(),
    /** A feed check that was printed and that nobody has measured. */
    toMeasureMs: integer('to_measure_ms'),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.stockId] })],
);

/** Ink that care fired, month by month: kept with what is booked, so that a ledger of years is never added up. */
export const careMonths = sqliteTable(
  'care_months',
  {
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    /** `2026-10`, in the shop's zone. */
    month: text('month').notNull(),
    ml: real('ml').notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.channelId, t.month] })],
);
