import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { CauseKind } from '../../../core/messages/messageRules.ts';
import { people } from './peopleTables.ts';

/** What people are told of: one row for a cause, however many events come of it. Instants are those of the shop. */
export const messageCauses = sqliteTable(
  'message_causes',
  {
    seq: integer('seq').primaryKey({ autoIncrement: true }),
    id: text('id').notNull().unique(),
    /** The same trouble of the same thing: only one with it is open. */
    key: text('key').notNull(),
    kind: text('kind').$type<CauseKind>().notNull(),
    text: text('text').notNull(),
    way: text('way').notNull(),
    printerId: text('printer_id'),
    openedMs: integer('opened_ms').notNull(),
    closedMs: integer('closed_ms'),
    seenMs: integer('seen_ms'),
    seenBy: text('seen_by'),
  },
  (t) => [
    index('cause_opened').on(t.openedMs),
    uniqueIndex('cause_open')
      .on(t.key)
      .where(sql`closed_ms IS NULL`),
  ],
);

/** What is sent of a cause, to whom and by which way. Tries go by this machine's clock. */
export const messageSends = sqliteTable(
  'message_sends',
  {
    id: text('id').primaryKey(),
    causeId: text('cause_id').notNull(),
    /** Null: to a webhook. */
    personId: text('person_id'),
    webhookId: text('webhook_id'),
    way: text('way').$type<'mail' | 'webhook'>().notNull(),
    escalated: integer('escalated', { mode: 'boolean' }).notNull(),
    /** By the shop's clock: when it was decided. */
    atMs: integer('at_ms').notNull(),
    state: text('state').$type<'waiting' | 'sent' | 'failed'>().notNull(),
    tries: integer('tries').notNull().default(0),
    nextRealMs: integer('next_real_ms').notNull(),
    error: text('error'),
  },
  (t) => [index('send_cause').on(t.causeId), index('send_due').on(t.state, t.nextRealMs)],
);

/** Who is told of what. */
export const messageRules = sqliteTable('message_rules', {
  personId: text('person_id')
    .primaryKey()
    .references(() => people.id),
  kinds: text('kinds', { mode: 'json' }).$type<readonly CauseKind[]>().notNull(),
  repeatMin: integer('repeat_min'),
  escalateAfterMin: integer('escalate_after_min'),
  escalateToId: text('escalate_to_id').references(() => people.id),
});

/** Programs that are told: each message is signed with their secret. */
export const webhooks = sqliteTable('webhooks', {
  id: text('id').primaryKey(),
  url: text('url').notNull(),
  secret: text('secret').notNull(),
  kinds: text('kinds', { mode: 'json' }).$type<readonly CauseKind[]>().notNull(),
});
