import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { AwayState, KeptPlan } from '../../../core/away/awayPeriod.ts';
import type { Assignment } from '../../../core/night/nightUnits.ts';

/** Times away that were armed: what was planned then, and what is known of it since. One is armed at a time. */
export const awayPeriods = sqliteTable(
  'away_periods',
  {
    id: text('id').primaryKey(),
    fromMs: integer('from_ms').notNull(),
    toMs: integer('to_ms').notNull(),
    state: text('state').$type<AwayState>().notNull(),
    planHash: text('plan_hash').notNull(),
    /** As it was when it was armed. */
    plan: text('plan', { mode: 'json' }).$type<KeptPlan>().notNull(),
    armedMs: integer('armed_ms').notNull(),
    armedBy: text('armed_by').notNull(),
    endedMs: integer('ended_ms'),
    /** Whether every run that was planned came; null: it isn't over. */
    came: integer('came', { mode: 'boolean' }),
    /** The morning page was looked at, and put away. */
    seenMs: integer('seen_ms'),
  },
  (t) => [
    index('away_from').on(t.fromMs),
    index('away_ended').on(t.endedMs),
    uniqueIndex('away_armed')
      .on(t.state)
      .where(sql`state = 'armed'`),
  ],
);

/** What a unit of a proposal is made from: a run that is queued, a draft, or jobs that wait. */
export interface KeptUnit {
  readonly id: string;
  readonly kind: 'queued' | 'draft' | 'jobs';
  /** Of the run, or of the jobs. */
  readonly ids: readonly string[];
  /** The printer in whose line it stands; null: it waits. */
  readonly standsOn: string | null;
}

/** What was done to accept a proposal, as far as it has to be taken back. */
export interface NightUndo {
  /** Runs that were made from jobs. */
  readonly made: readonly string[];
  /** Drafts that were queued. */
  readonly queued: readonly string[];
  /** Runs that were moved: what each was, is now, and on which printer and in which mode it stood. */
  readonly moved: readonly {
    readonly was: string;
    readonly is: string;
    readonly printerId: string;
    readonly modeId: string;
  }[];
  /** Lines as they were. */
  readonly lines: Readonly<Record<string, readonly string[]>>;
}

/** Nights that were proposed lately: accepting one needs what it was made from. */
export const nightProposals = sqliteTable(
  'night_proposals',
  {
    id: text('id').primaryKey(),
    madeMs: integer('made_ms').notNull(),
    fromMs: integer('from_ms').notNull(),
    toMs: integer('to_ms').notNull(),
    state: text('state').$type<'offered' | 'accepted' | 'taken back'>().notNull(),
    assignment: text('assignment', { mode: 'json' }).$type<Assignment>().notNull(),
    units: text('units', { mode: 'json' }).$type<readonly KeptUnit[]>().notNull(),
    undo: text('undo', { mode: 'json' }).$type<NightUndo>(),
  },
  (t) => [index('night_made').on(t.madeMs)],
);
