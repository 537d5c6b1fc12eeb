import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { RuleWhat } from '../../../core/care/careRule.ts';
import type { CareWhat } from '../../../core/care/careData.ts';
import type { PurgeSheet } from '../../../core/care/purge.ts';
import type { CareState } from '../../../core/flow/care.ts';
import { printers, stocks } from './floorTables.ts';

/** Purges as they are designed, for one printer each. */
export const purgeDesigns = sqliteTable('purge_designs', {
  id: text('id').primaryKey(),
  printerId: text('printer_id')
    .notNull()
    .references(() => printers.id),
  name: text('name').notNull(),
  sheet: text('sheet', { mode: 'json' }).$type<PurgeSheet>().notNull(),
  modeId: text('mode_id').notNull(),
  stockId: text('stock_id')
    .notNull()
    .references(() => stocks.id),
  onlyNeeded: integer('only_needed', { mode: 'boolean' }).notNull().default(false),
});

/** What is done by itself, again and again; local times are those of the shop's zone. */
export const timers = sqliteTable(
  'timers',
  {
    id: text('id').primaryKey(),
    /** Those that were made together. */
    groupId: text('group_id').notNull(),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    what: text('what', { mode: 'json' }).$type<CareWhat>().notNull(),
    rrule: text('rrule'),
    startLocal: text('start_local').notNull(),
    untilLocal: text('until_local'),
    skipHolidays: integer('skip_holidays', { mode: 'boolean' }).notNull(),
    missed: text('missed').$type<'catch-up' | 'report'>().notNull(),
    slackMin: integer('slack_min').notNull(),
    paused: integer('paused', { mode: 'boolean' }).notNull(),
    /** The next occurrence; null: none comes. A paused timer keeps it and is looked at when it goes on. */
    nextMs: integer('next_ms'),
    version: integer('version').notNull().default(0),
    /** The person who changed it last, by name; null: nobody who has signed in. */
    changedBy: text('changed_by'),
  },
  (t) => [index('timer_next').on(t.paused, t.nextMs), index('timer_printer').on(t.printerId)],
);

/**
 * Care in a printer's line. An occurrence of a timer is known by timer and instant: its row is written in the transaction that puts
 * it into the line, so that it is never done twice.
 */
export const careItems = sqliteTable(
  'care_items',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    id: text('id').notNull().unique(),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    what: text('what', { mode: 'json' }).$type<CareWhat>().notNull(),
    title: text('title').notNull(),
    timerId: text('timer_id'),
    /** The rule that asked for it, and the run that it comes before. */
    ruleId: text('rule_id'),
    runId: text('run_id'),
    dueMs: integer('due_ms').notNull(),
    /** It was let go first then, before a run that would have kept it too long; null: it is done when it is due. */
    earlyMs: integer('early_ms'),
    latestMs: integer('latest_ms').notNull(),
    state: text('state').$type<CareState>().notNull(),
    attempt: integer('attempt').notNull().default(0),
    reportSeq: integer('report_seq').notNull().default(0),
    reason: text('reason'),
    estimateMs: real('estimate_ms').notNull(),
    /** What it will fire; once it has ended, what it fired. */
    inkMl: text('ink_ml', { mode: 'json' }).$type<Readonly<Record<string, number>>>().notNull(),
    /** What it did not fire because work had exercised its channels. */
    savedMl: text('saved_ml', { mode: 'json' }).$type<Readonly<Record<string, number>>>().notNull(),
    fedMm: real('fed_mm').notNull().default(0),
    spoolId: text('spool_id'),
    msLeft: real('ms_left'),
    progressMs: integer('progress_ms'),
    startedMs: integer('started_ms'),
    endedMs: integer('ended_ms'),
  },
  (t) => [
    uniqueIndex('care_occurrence').on(t.timerId, t.dueMs),
    uniqueIndex('care_of_rule').on(t.ruleId, t.runId),
    index('care_before_run').on(t.runId),
    index('care_early').on(t.earlyMs),
    index('care_line').on(t.printerId, t.state),
    index('care_state').on(t.state, t.dueMs),
    index('care_due').on(t.dueMs),
    index('care_spool').on(t.spoolId, t.state),
  ],
);

/** Care that comes before runs: which, and before which. */
export const careRules = sqliteTable('care_rules', {
  id: text('id').primaryKey(),
  /** Null: all printers. */
  printerIds: text('printer_ids', { mode: 'json' }).$type<readonly string[]>(),
  what: text('what', { mode: 'json' }).$type<RuleWhat>().notNull(),
  overMm: real('over_mm'),
  onlyImportant: integer('only_important', { mode: 'boolean' }).notNull(),
  paused: integer('paused', { mode: 'boolean' }).notNull(),
  version: integer('version').notNull().default(0),
  /** The person who changed it last, by name; null: nobody who has signed in. */
  changedBy: text('changed_by'),
});

/** When each channel was last exercised by what it fired, kept with every firing that is written down. */
export const channelExercise = sqliteTable(
  'channel_exercise',
  {
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    exercisedMs: integer('exercised_ms').notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.channelId] })],
);
