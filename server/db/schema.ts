import { index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import type { LayoutSettings } from '../../contract/api/run.ts';
import type { UndoStep } from '../../contract/api/common.ts';
import type { JobState } from '../../core/flow/job.ts';
import type { RunState } from '../../core/flow/run.ts';
import type { LedgerEntry } from '../../core/stock/roll.ts';
import type { Finding } from '../../core/ticket/findings.ts';
import type { Ticket, TicketValues } from '../../core/ticket/ticket.ts';

export const settings = sqliteTable('settings', {
  key: text('key').primaryKey(),
  value: text('value', { mode: 'json' }).$type<unknown>().notNull(),
});

export const printers = sqliteTable('printers', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  position: integer('position').notNull(),
  config: text('config', { mode: 'json' }).$type<PrinterConfig>().notNull(),
  /** What the link last said; `off` while there is no link. */
  linkStatus: text('link_status').$type<'off' | 'idle' | 'printing' | 'waiting' | 'faulted'>().notNull().default('off'),
  linkReason: text('link_reason'),
});

export const stocks = sqliteTable('stocks', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  widthMm: real('width_mm').notNull(),
  thicknessMm: real('thickness_mm').notNull(),
  coreMm: real('core_mm').notNull(),
  colour: text('colour').notNull(),
  pricePerM2Minor: integer('price_per_m2_minor').notNull(),
});

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
  },
  (t) => [uniqueIndex('spool_place').on(t.printerId, t.sourceId)],
);

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
    atMs: integer('at_ms').notNull(),
  },
  // One attempt of a run is booked once, however often the printer reports its end.
  (t) => [index('ledger_spool').on(t.spoolId), uniqueIndex('ledger_run').on(t.runId, t.attempt)],
);

export const inkLedger = sqliteTable(
  'ink_ledger',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    channelId: text('channel_id').notNull(),
    ml: real('ml').notNull(),
    runId: text('run_id'),
    attempt: integer('attempt'),
    atMs: integer('at_ms').notNull(),
  },
  (t) => [uniqueIndex('ink_run').on(t.printerId, t.channelId, t.runId, t.attempt)],
);

export const queues = sqliteTable('queues', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  printerId: text('printer_id')
    .notNull()
    .references(() => printers.id),
  settings: text('settings', { mode: 'json' }).$type<TicketValues>().notNull(),
  gapMm: real('gap_mm').notNull(),
  arrivalRule: text('arrival_rule').$type<'wait' | 'prepare' | 'go'>().notNull(),
  warnBelowDpi: integer('warn_below_dpi').notNull(),
  noteBelowDpi: integer('note_below_dpi').notNull(),
  position: integer('position').notNull(),
});

export const hotFolders = sqliteTable('hot_folders', {
  id: text('id').primaryKey(),
  queueId: text('queue_id')
    .notNull()
    .references(() => queues.id),
  path: text('path').notNull(),
});

export const jobs = sqliteTable(
  'jobs',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    id: text('id').notNull().unique(),
    queueId: text('queue_id')
      .notNull()
      .references(() => queues.id),
    hotFolderId: text('hot_folder_id').references(() => hotFolders.id),
    /** Of the claim that brought the file in: a claim becomes at most one job. */
    claimId: text('claim_id').unique(),
    sourceName: text('source_name').notNull(),
    sha256: text('sha256'),
    format: text('format').$type<'pdf' | 'png' | 'jpeg'>(),
    bytes: integer('bytes').notNull(),
    widthMm: real('width_mm'),
    heightMm: real('height_mm'),
    pages: integer('pages'),
    pixelsAcross: integer('pixels_across'),
    assumedDpi: integer('assumed_dpi'),
    hasAlpha: integer('has_alpha', { mode: 'boolean' }).notNull().default(false),
    state: text('state').$type<JobState>().notNull(),
    ticket: text('ticket', { mode: 'json' }).$type<Ticket>().notNull(),
    findings: text('findings', { mode: 'json' }).$type<Finding[]>().notNull(),
    arrivedMs: integer('arrived_ms').notNull(),
  },
  (t) => [index('job_state').on(t.state)],
);

export interface Bleed {
  readonly leftMm: number;
  readonly topMm: number;
  readonly rightMm: number;
  readonly bottomMm: number;
}

export const jobPages = sqliteTable(
  'job_pages',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    page: integer('page').notNull(),
    /** Trim size; the piece adds the bleed. */
    widthMm: real('width_mm').notNull(),
    heightMm: real('height_mm').notNull(),
    bleed: text('bleed', { mode: 'json' }).$type<Bleed>().notNull(),
    coverage: text('coverage', { mode: 'json' }).$type<Record<string, number>>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.page] })],
);

export const pieces = sqliteTable(
  'pieces',
  {
    id: text('id').primaryKey(),
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    page: integer('page').notNull(),
    copy: integer('copy').notNull(),
    state: text('state').$type<'owed' | 'placed' | 'printed' | 'spoiled'>().notNull(),
    /** The live run that holds it while `placed`, the run that printed it afterwards. */
    runId: text('run_id'),
  },
  (t) => [index('piece_job').on(t.jobId), index('piece_run').on(t.runId)],
);

export const runs = sqliteTable(
  'runs',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    id: text('id').notNull().unique(),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    queueId: text('queue_id')
      .notNull()
      .references(() => queues.id),
    spoolId: text('spool_id').references(() => spools.id),
    state: text('state').$type<RunState>().notNull(),
    position: integer('position').notNull(),
    attempt: integer('attempt').notNull().default(0),
    settings: text('settings', { mode: 'json' }).$type<LayoutSettings>().notNull(),
    ticket: text('ticket', { mode: 'json' }).$type<TicketValues>().notNull(),
    mediaWidthMm: real('media_width_mm').notNull(),
    lengthMm: real('length_mm').notNull().default(0),
    estimateMs: real('estimate_ms').notNull().default(0),
    inkMl: text('ink_ml', { mode: 'json' }).$type<Record<string, number>>().notNull(),
    reason: text('reason'),
    phase: text('phase'),
    reachedMm: real('reached_mm'),
    fedMm: real('fed_mm'),
    msLeft: real('ms_left'),
    progressMs: integer('progress_ms'),
    createdMs: integer('created_ms').notNull(),
    startedMs: integer('started_ms'),
    endedMs: integer('ended_ms'),
  },
  (t) => [index('run_line').on(t.printerId, t.state)],
);

export const runPieces = sqliteTable(
  'run_pieces',
  {
    runId: text('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    pieceId: text('piece_id')
      .notNull()
      .references(() => pieces.id, { onDelete: 'cascade' }),
    xMm: real('x_mm').notNull().default(0),
    yMm: real('y_mm').notNull().default(0),
    turned: integer('turned', { mode: 'boolean' }).notNull().default(false),
    placed: integer('placed', { mode: 'boolean' }).notNull().default(false),
  },
  (t) => [primaryKey({ columns: [t.runId, t.pieceId] }), index('run_piece_piece').on(t.pieceId)],
);

export const refusals = sqliteTable('refusals', {
  id: text('id').primaryKey(),
  claimId: text('claim_id').notNull().unique(),
  queueId: text('queue_id')
    .notNull()
    .references(() => queues.id),
  hotFolderId: text('hot_folder_id'),
  sourceName: text('source_name').notNull(),
  reason: text('reason').notNull(),
  sidePath: text('side_path').notNull(),
  atMs: integer('at_ms').notNull(),
  dismissed: integer('dismissed', { mode: 'boolean' }).notNull().default(false),
});

export const events = sqliteTable(
  'events',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    atMs: integer('at_ms').notNull(),
    kind: text('kind').notNull(),
    subjectType: text('subject_type').notNull(),
    subjectId: text('subject_id').notNull(),
    who: text('who').notNull(),
    text: text('text').notNull(),
    undo: text('undo', { mode: 'json' }).$type<UndoStep>(),
  },
  (t) => [index('event_subject').on(t.subjectType, t.subjectId)],
);
