import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { LayoutSettings, RunSide } from '../../../contract/api/run.ts';
import type { JobState } from '../../../core/flow/job.ts';
import type { RuleCondition } from '../../../core/routing/rules.ts';
import type { RunState } from '../../../core/flow/run.ts';
import type { FileFormat } from '../../../core/ticket/fileFormat.ts';
import type { Checks, FileNature, Finding } from '../../../core/ticket/finding.ts';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import type { FinishedPage } from '../../../core/ticket/finishedPage.ts';
import type { Subfolders } from '../../../core/ticket/namePattern.ts';
import type { Sides, Ticket, TicketKey, TicketPart, TicketValues } from '../../../core/ticket/ticket.ts';
import { printers, spools } from './floorTables.ts';

export const settings = sqliteTable('settings', {
  key: text('key').primaryKey(),
  value: text('value', { mode: 'json' }).$type<unknown>().notNull(),
});

export const presets = sqliteTable('presets', {
  id: text('id').primaryKey(),
  name: text('name').notNull().unique(),
  settings: text('settings', { mode: 'json' }).$type<TicketPart>().notNull(),
  changedMs: integer('changed_ms').notNull(),
});

/** What a queue does with what arrives: it keeps it, hands it on by the rules, or gives it to the printer that fits best. */
export type Routing = 'stays' | 'rules' | 'best';
/** How far a job goes by itself: it waits, its draft is laid out, or its run is queued. */
export type ArrivalRule = 'wait' | 'prepare' | 'go';

export const queues = sqliteTable('queues', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  printerId: text('printer_id')
    .notNull()
    .references(() => printers.id),
  /** What arriving jobs get from the queue; names a mode and a stock at least. */
  settings: text('settings', { mode: 'json' }).$type<TicketPart>().notNull(),
  gapMm: real('gap_mm').notNull(),
  arrivalRule: text('arrival_rule').$type<ArrivalRule>().notNull(),
  /** With the rule *go*: an unsent run is joined by like jobs for so long. */
  goAfterMin: integer('go_after_min').notNull().default(0),
  checks: text('checks', { mode: 'json' })
    .$type<Checks>()
    .notNull()
    .default({} as Checks),
  position: integer('position').notNull(),
  /** Whether its runs may go to any printer of its printer's pool. */
  forPool: integer('for_pool', { mode: 'boolean' }).notNull().default(false),
  /** What becomes of jobs that arrive ready: they stay, the rules say, or the fit list's first. */
  routing: text('routing').$type<Routing>().notNull().default('stays'),
});

export const rules = sqliteTable('rules', {
  id: text('id').primaryKey(),
  position: integer('position').notNull(),
  name: text('name').notNull(),
  when: text('when', { mode: 'json' }).$type<readonly RuleCondition[]>().notNull(),
  /** The first that can take it. */
  printerIds: text('printer_ids', { mode: 'json' }).$type<readonly string[]>().notNull(),
  on: integer('on', { mode: 'boolean' }).notNull().default(true),
});

export const hotFolders = sqliteTable('hot_folders', {
  id: text('id').primaryKey(),
  queueId: text('queue_id')
    .notNull()
    .references(() => queues.id),
  path: text('path').notNull(),
  presetId: text('preset_id').references(() => presets.id),
  /** Null: the queue's. */
  arrivalRule: text('arrival_rule').$type<ArrivalRule>(),
  namePattern: text('name_pattern'),
  subfolders: text('subfolders').$type<Subfolders>().notNull().default('not looked into'),
  /** What becomes of a file once its job is there. */
  afterwards: text('afterwards').$type<'removed' | 'kept in done'>().notNull().default('removed'),
  paused: integer('paused', { mode: 'boolean' }).notNull().default(false),
  taken: integer('taken').notNull().default(0),
  refusedCount: integer('refused_count').notNull().default(0),
  lastFile: text('last_file'),
  lastMs: integer('last_ms'),
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
    /** Of the claim that brought the file in; what a claim has become is looked up before it is brought in again. */
    claimId: text('claim_id'),
    sourceName: text('source_name').notNull(),
    sha256: text('sha256'),
    format: text('format').$type<FileFormat>(),
    bytes: integer('bytes').notNull(),
    widthMm: real('width_mm'),
    heightMm: real('height_mm'),
    pages: integer('pages'),
    /** What the file as a whole is like; null while it still arrives. */
    nature: text('nature', { mode: 'json' }).$type<FileNature>(),
    state: text('state').$type<JobState>().notNull(),
    ticket: text('ticket', { mode: 'json' }).$type<Ticket>().notNull(),
    findings: text('findings', { mode: 'json' }).$type<Finding[]>().notNull(),
    arrivedMs: integer('arrived_ms').notNull(),
    /** What all of its pieces bring (minor units); null: nobody has said. */
    priceMinor: integer('price_minor'),
    /** When its keep rule has to be looked at next; null: nothing will become of it by itself. */
    keepDueMs: integer('keep_due_ms'),
    /** Its number once it is over, and once it is kept on the Shelf: lists of the past are read by these, newest first. */
    pastSeq: integer('past_seq').generatedAlwaysAs(
      sql`(CASE WHEN state IN ('printed', 'shelved', 'dropped', 'cancelled') THEN seq END)`,
      { mode: 'virtual' },
    ),
    keptSeq: integer('kept_seq').generatedAlwaysAs(sql`(CASE WHEN state IN ('printed', 'shelved') THEN seq END)`, {
      mode: 'virtual',
    }),
  },
  (t) => [
    index('job_state').on(t.state, t.queueId),
    index('job_claim').on(t.claimId),
    index('job_queue').on(t.queueId),
    index('job_source').on(t.sourceName),
    index('job_arrived').on(t.arrivedMs),
    index('job_keep_due').on(t.keepDueMs),
    index('job_past').on(t.pastSeq),
    index('job_kept').on(t.keptSeq),
  ],
);

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
    bleed: text('bleed', { mode: 'json' }).$type<Sides>().notNull(),
    coverage: text('coverage', { mode: 'json' }).$type<Record<string, number>>().notNull(),
    /** Which page of the file it is: a job may hold one page of many. */
    sourcePage: integer('source_page').notNull().default(0),
    dpi: real('dpi'),
    thinnestMm: real('thinnest_mm'),
    /** Closed lines that the page may be cut along; null: none. */
    cutLines: text('cut_lines', { mode: 'json' }).$type<CutLine[]>(),
    /** As the ticket makes it; null: as it came. */
    finished: text('finished', { mode: 'json' }).$type<FinishedPage>(),
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
    /** The ink or spot that this piece shows alone; null: all of them. */
    part: text('part'),
    /** Number of the panel that this piece is; null: the whole page. */
    tile: integer('tile'),
    /** A back is made when the same picture is printed on both sides; it goes when that is given up. */
    side: text('side').$type<'front' | 'back'>().notNull().default('front'),
    state: text('state').$type<'owed' | 'placed' | 'printed' | 'spoiled'>().notNull(),
    /** The live run that holds it while `placed`, the run that printed it afterwards. */
    runId: text('run_id'),
  },
  (t) => [index('piece_job').on(t.jobId, t.state, t.runId), index('piece_run').on(t.runId)],
);

/** An index over an expression, `run_history`, which the schema language can't say, stands in its migration. */
export const runs = sqliteTable(
  'runs',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    /** Of the run that it goes on as, moved or taken back: people go on calling it by that. Null: its own. */
    keptNumber: integer('kept_number'),
    /** What people call it by. */
    number: integer('number')
      .notNull()
      .generatedAlwaysAs(sql`(coalesce(kept_number, seq))`, { mode: 'virtual' }),
    id: text('id').notNull().unique(),
    printerId: text('printer_id')
      .notNull()
      .references(() => printers.id),
    queueId: text('queue_id')
      .notNull()
      .references(() => queues.id),
    spoolId: text('spool_id').references(() => spools.id),
    /** The spool that a person has chosen for it while it is queued; null: whichever of its stock is long enough. */
    meantSpoolId: text('meant_spool_id').references(() => spools.id),
    state: text('state').$type<RunState>().notNull(),
    position: integer('position').notNull(),
    attempt: integer('attempt').notNull().default(0),
    settings: text('settings', { mode: 'json' }).$type<LayoutSettings>().notNull(),
    ticket: text('ticket', { mode: 'json' }).$type<TicketValues>().notNull(),
    mediaWidthMm: real('media_width_mm').notNull(),
    lengthMm: real('length_mm').notNull().default(0),
    estimateMs: real('estimate_ms').notNull().default(0),
    inkMl: text('ink_ml', { mode: 'json' }).$type<Record<string, number>>().notNull(),
    /** Rendering in which that ink was counted, dot by dot; null: it is an estimate. */
    inkRendering: text('ink_rendering'),
    /** Rendering that it would be, of which its ink was sampled; null: the estimate goes by small pictures of its pages. */
    inkSample: text('ink_sample'),
    /** Rendering whose dots its printer was sent last; null: it was sent the PDF. */
    sentRendering: text('sent_rendering'),
    /** On a page-wide array: what of it every column across the media gets. Null: all of it counts. */
    evenMl: text('even_ml', { mode: 'json' }).$type<Record<string, number>>(),
    reason: text('reason'),
    phase: text('phase'),
    reachedMm: real('reached_mm'),
    fedMm: real('fed_mm'),
    msLeft: real('ms_left'),
    progressMs: integer('progress_ms'),
    /** A run made by the rule *go* is queued at this instant unless a person has taken it in hand. */
    goAtMs: integer('go_at_ms'),
    /** Segments that were cut from one run, in the order of printing: the series and the place in it, from 1. */
    seriesId: text('series_id'),
    seriesNo: integer('series_no'),
    seriesOf: integer('series_of'),
    /** Front and back of the same media: the pair, and how the back follows. */
    pairId: text('pair_id'),
    side: text('side', { mode: 'json' }).$type<RunSide>(),
    createdMs: integer('created_ms').notNull(),
    startedMs: integer('started_ms'),
    endedMs: integer('ended_ms'),
    /** Not before this instant, whatever else is free. */
    fixedStartMs: integer('fixed_start_ms'),
    /** A person has marked it: rules may ask for care before it. */
    important: integer('important', { mode: 'boolean' }).notNull().default(false),
    /** Time that it stood still, and since when it stands now. */
    pausedMs: integer('paused_ms').notNull().default(0),
    pausedSinceMs: integer('paused_since_ms'),
    /** Fed from spools that ran out in the middle of it; on their ledgers already. */
    bookedMm: real('booked_mm').notNull().default(0),
    /** What its laid-out PDF is named by, once it was made. */
    pdfKey: text('pdf_key'),
    /** Counts every change of its layout: who saves says which one was changed, so that nobody overwrites another's work. */
    version: integer('version').notNull().default(0),
    /** The person who laid it out last, by name; null: nobody who has signed in. */
    laidOutBy: text('laid_out_by'),
    /** Of the last report that was taken; an earlier one that comes late changes nothing. */
    reportSeq: integer('report_seq').notNull().default(0),
    /** The run that it was made from, and how: it was moved, taken back, cut into segments… Null: from jobs. */
    fromRunId: text('from_run_id'),
    madeBy: text('made_by').$type<RunMaking>().notNull().default('from jobs'),
  },
  (t) => [
    index('run_number').on(t.number),
    index('run_pair').on(t.pairId),
    index('run_line').on(t.printerId, t.state),
    index('run_series').on(t.seriesId),
    index('run_state').on(t.state, t.position),
    index('run_position').on(t.position),
    index('run_spool').on(t.spoolId, t.state),
    index('run_queue').on(t.queueId, t.state),
    index('run_ended').on(t.endedMs),
    index('run_go').on(t.goAtMs),
    index('run_pdf').on(t.pdfKey),
  ],
);

/** How a run came about. */
export type RunMaking = 'from jobs' | 'segment' | 'joined' | 'back' | 'taken back' | 'moved' | 'rest';

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
    /** Counter-clockwise, 0 up to 360; the corner is that of the turned piece. */
    angleDeg: real('angle_deg').notNull().default(0),
    placed: integer('placed', { mode: 'boolean' }).notNull().default(false),
    /** Stays where it lies when the rest is nested again. */
    locked: integer('locked', { mode: 'boolean' }).notNull().default(false),
    /** On a back: the piece of the front behind which it lies. */
    frontPieceId: text('front_piece_id'),
  },
  (t) => [primaryKey({ columns: [t.runId, t.pieceId] }), index('run_piece_piece').on(t.pieceId)],
);

export const refusals = sqliteTable(
  'refusals',
  {
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
  },
  (t) => [
    index('refusal_open').on(t.dismissed, t.atMs),
    index('refusal_source').on(t.sourceName),
    index('refusal_queue').on(t.queueId),
  ],
);

/** What tickets were before a change, so that it can be undone; a change of many jobs has many rows. */
export const ticketChanges = sqliteTable(
  'ticket_changes',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    changeId: text('change_id').notNull(),
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    queueId: text('queue_id').notNull(),
    ticket: text('ticket', { mode: 'json' }).$type<Ticket>().notNull(),
    /** Values that the change touched. */
    keys: text('keys', { mode: 'json' }).$type<TicketKey[]>().notNull(),
  },
  (t) => [index('ticket_change').on(t.changeId), index('ticket_change_job').on(t.jobId)],
);
