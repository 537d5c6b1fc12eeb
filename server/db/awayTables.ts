import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { AwayState, KeptPlan } from '../../core/away/awayPeriod.ts';

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
