import type { ErrorDetail } from '../../../contract/api/common.ts';
import type { TaskState } from '../../../contract/api/task.ts';
import type { ActorKind } from '../../../core/events/actor.ts';
import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { UndoStep } from '../../../contract/api/common.ts';
import type { LedgerEntry } from '../../../core/stock/roll.ts';
import { runs } from './schema.ts';
import { printers, spools } from './floorTables.ts';

export const spoolLedger = sqliteTable(
  'spool_ledger',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    spoolId: text('spool_id')
      .notNull()
      .references(() => spools.id),
    kind: text('kind').$type<LedgerEntry['kind']>().notNull(),
    mm: real('mm').notNull(),
    runId: text('run_id'),
    attempt: integer('attempt'),
    /** Which trip of ink over the pieces it was fed for, from 1. */
    coat: integer('coat').notNull().default(1),
    atMs: integer('at_ms').notNull(),
    reason: text('reason'),
  },
  // One coat of an attempt of a run is booked once, however often the printer reports its end.
  (t) => [
    // Sums over one spool, and what was used lately, are read from the index alone.
    index('ledger_spool').on(t.spoolId, t.kind, t.mm),
    index('ledger_kind').on(t.kind, t.atMs, t.spoolId, t.mm),
    uniqueIndex('ledger_run').on(t.runId, t.attempt, t.coat),
  ],
);

/** What ink was used for: only `run` belongs to an attempt of a run. */
export type InkPurpose = 'run' | 'fill' | 'care' | 'purge' | 'check' | 'clean' | 'exercise' | 'change';

/** The one way in which a printer's channels are fitted until ink sets can be told apart. */
const FITTED_INK_SET = 'fitted';

export const inkLedger = sqliteTable(
  'ink_ledger',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    channelId: text('channel_id').notNull(),
    ml: real('ml').notNull(),
    /** What it was fired or filled for. */
    purpose: text('purpose').$type<InkPurpose>().notNull().default('run'),
    runId: text('run_id'),
    attempt: integer('attempt'),
    coat: integer('coat').notNull().default(1),
    /** How the channels were fitted at the time. */
    inkSet: text('ink_set').notNull().default(FITTED_INK_SET),
    atMs: integer('at_ms').notNull(),
  },
  (t) => [
    uniqueIndex('ink_run').on(t.printerId, t.channelId, t.runId, t.attempt, t.coat),
    // Sums over a time are read from the index alone.
    index('ink_time').on(t.atMs, t.printerId, t.channelId, t.purpose, t.ml),
  ],
);

/**
 * What the ink ledger of a channel comes to. A trigger of the database keeps it with every row that is booked, so that a
 * printer's ink never has to be added up over years.
 */
export const inkSums = sqliteTable(
  'ink_sums',
  {
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    ml: real('ml').notNull(),
  },
  (t) => [primaryKey({ columns: [t.printerId, t.channelId] })],
);

/** What figures of an attempt go by, as it was then. */
export interface AttemptTerms {
  readonly queueId: string;
  readonly mediaWidthMm: number;
  readonly leadMm: number;
  readonly trailMm: number;
  /** Ink that was estimated for all of it. */
  readonly plannedInkMl: number;
  readonly mediaPerM2Minor: number;
  readonly ratePerHourMinor: number;
  readonly pricePerMlMicro: Readonly<Record<string, number>>;
}

/**
 * What became of each time a run was sent: one row for an attempt and coat, written when it is sent and closed when it ends.
 * Figures of time, waste and odds read these, never the sentences of the log.
 */
export const runAttempts = sqliteTable(
  'run_attempts',
  {
    runId: text('run_id')
      .notNull()
      .references(() => runs.id),
    attempt: integer('attempt').notNull(),
    coat: integer('coat').notNull().default(1),
    inkSet: text('ink_set').notNull().default(FITTED_INK_SET),
    printerId: text('printer_id').notNull(),
    modeId: text('mode_id').notNull(),
    stockId: text('stock_id').notNull(),
    spoolId: text('spool_id'),
    outcome: text('outcome').$type<'on the printer' | 'printed' | 'failed' | 'cancelled'>().notNull(),
    /** As the printer says it. */
    cause: text('cause'),
    estimateMs: real('estimate_ms').notNull(),
    sentMs: integer('sent_ms'),
    startedMs: integer('started_ms'),
    endedMs: integer('ended_ms'),
    pausedMs: integer('paused_ms').notNull().default(0),
    /** Printed, and fed with leader and trailer. */
    lengthMm: real('length_mm').notNull().default(0),
    fedMm: real('fed_mm').notNull().default(0),
    /** Prices and lengths that counted when it was sent; null in rows of an earlier version: those of today count. */
    terms: text('terms', { mode: 'json' }).$type<AttemptTerms>(),
  },
  (t) => [
    primaryKey({ columns: [t.runId, t.attempt, t.coat] }),
    index('attempt_printer').on(t.printerId, t.endedMs),
    index('attempt_started').on(t.printerId, t.startedMs),
    index('attempt_stock').on(t.stockId, t.endedMs),
  ],
);

/** What became of each piece in each attempt; a piece that is spoiled later has a second row, by the person who found it. */
export const pieceOutcomes = sqliteTable(
  'piece_outcomes',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    pieceId: text('piece_id').notNull(),
    jobId: text('job_id').notNull(),
    runId: text('run_id').notNull(),
    attempt: integer('attempt').notNull(),
    outcome: text('outcome').$type<'printed' | 'not printed' | 'spoiled'>().notNull(),
    atMs: integer('at_ms').notNull(),
    cause: text('cause'),
  },
  (t) => [
    index('outcome_piece').on(t.pieceId),
    index('outcome_run').on(t.runId, t.attempt),
    index('outcome_job').on(t.jobId, t.atMs),
    index('outcome_at').on(t.outcome, t.atMs),
  ],
);

/** How long a printer was in each state, and why: each spell ends where the next begins. The last one is open. */
export const printerSpells = sqliteTable(
  'printer_spells',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    printerId: text('printer_id').notNull(),
    state: text('state').notNull(),
    cause: text('cause'),
    fromMs: integer('from_ms').notNull(),
    toMs: integer('to_ms'),
  },
  (t) => [
    index('spell_printer').on(t.printerId, t.fromMs),
    // A printer is in one state at a time.
    uniqueIndex('spell_open')
      .on(t.printerId)
      .where(sql`to_ms IS NULL`),
  ],
);

/** When a channel fired and how much: what keeps it healthy, and what clogs it when it is missing. */
export const channelFirings = sqliteTable(
  'channel_firings',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    printerId: text('printer_id').notNull(),
    channelId: text('channel_id').notNull(),
    inkSet: text('ink_set').notNull().default(FITTED_INK_SET),
    purpose: text('purpose').$type<InkPurpose>().notNull(),
    runId: text('run_id'),
    attempt: integer('attempt'),
    coat: integer('coat').notNull().default(1),
    fromMs: integer('from_ms').notNull(),
    toMs: integer('to_ms').notNull(),
    ml: real('ml').notNull(),
    /** On a page-wide array: what every column across the media got. Null: all of it. */
    evenMl: real('even_ml'),
  },
  (t) => [
    index('firing_channel').on(t.printerId, t.channelId, t.toMs),
    uniqueIndex('firing_run').on(t.printerId, t.channelId, t.runId, t.attempt, t.coat),
  ],
);

/** What the ledger of a spool comes to, kept by a trigger as `ink_sums` is. */
export const spoolSums = sqliteTable('spool_sums', {
  spoolId: text('spool_id').primaryKey(),
  mm: real('mm').notNull(),
});

export const events = sqliteTable(
  'events',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    atMs: integer('at_ms').notNull(),
    kind: text('kind').notNull(),
    subjectType: text('subject_type').notNull(),
    subjectId: text('subject_id').notNull(),
    actorKind: text('actor_kind').$type<ActorKind>().notNull().default('program'),
    /** Of the person, timer or device; null in rows of an earlier version. */
    actorId: text('actor_id'),
    who: text('who').notNull(),
    /** The sentence of a row of an earlier version; those of today have data instead. */
    text: text('text').notNull(),
    data: text('data', { mode: 'json' }).$type<unknown>(),
    undo: text('undo', { mode: 'json' }).$type<UndoStep>(),
  },
  (t) => [
    index('event_subject').on(t.subjectType, t.subjectId),
    // What people did is counted hour by hour.
    index('event_person')
      .on(t.atMs, t.subjectType, t.subjectId)
      .where(sql`actor_kind = 'person'`),
  ],
);

/**
 * Heavy work that is waiting, under way, or was over lately. Rows of what is over go after a while. A task that was under way
 * when its holder died is taken up again once its lease has run out.
 */
export const tasks = sqliteTable(
  'tasks',
  {
    id: text('id').primaryKey(),
    kind: text('kind').notNull(),
    /** Of kind and input: the same question is worked on once. */
    key: text('key').notNull(),
    /** Plain data; null where nobody would wait for its answer after the process that began it. */
    input: text('input', { mode: 'json' }).$type<unknown>(),
    priority: integer('priority').notNull(),
    state: text('state').$type<TaskState>().notNull(),
    attempts: integer('attempts').notNull().default(0),
    leaseBy: text('lease_by'),
    leaseUntilMs: integer('lease_until_ms'),
    progress: real('progress'),
    /** The answer of a request, for whoever was told to ask for it later. */
    result: text('result', { mode: 'json' }).$type<unknown>(),
    /** Why it failed, as the request would have been refused. */
    error: text('error', { mode: 'json' }).$type<ErrorDetail>(),
    /** By the clock of the machine, not of the shop. */
    createdMs: integer('created_ms').notNull(),
    endedMs: integer('ended_ms'),
  },
  (t) => [
    index('task_state').on(t.state, t.priority, t.createdMs),
    index('task_ended').on(t.endedMs),
    index('task_key').on(t.kind, t.key),
  ],
);
