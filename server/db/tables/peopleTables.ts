import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { DayHours } from '../../../core/schedule/shopHours.ts';
import type { Preferences } from '../../../core/people/preferences.ts';
import type { Right, Role } from '../../../core/people/rights.ts';

/*
 * People and what they sign in with. Instants are those of this machine, not of the shop's clock, which may run faster. Of
 * whatever opens a door only a digest is kept.
 */

export const people = sqliteTable('people', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  does: text('does').notNull().default(''),
  role: text('role').$type<Role>().notNull(),
  /** Where messages go. */
  mail: text('mail'),
  /** When they are there; null: as the shop is. */
  hours: text('hours', { mode: 'json' }).$type<readonly DayHours[]>(),
  /** From and to: no message is sent then; it may go past midnight. */
  quiet: text('quiet', { mode: 'json' }).$type<{ readonly from: string; readonly to: string }>(),
  /** In small letters; null: this person does not sign in with a password. */
  signInName: text('sign_in_name').unique(),
  password: text('password'),
  /** The secret of one-time codes, base 32; null: none are asked for. */
  totp: text('totp'),
  /** The step of the last code that was taken: no code counts twice. */
  totpStep: integer('totp_step'),
  /** Who they are at the sign-in provider: its address and the name there that stays. */
  providerSubject: text('provider_subject').unique(),
  preferences: text('preferences', { mode: 'json' }).$type<Partial<Preferences>>().notNull().default({}),
  /** When they left the shop; their rows in the log stay. */
  leftMs: integer('left_ms'),
});

export const sessions = sqliteTable(
  'sessions',
  {
    id: text('id').primaryKey(),
    digest: text('digest').notNull().unique(),
    personId: text('person_id')
      .notNull()
      .references(() => people.id),
    /** What it is on, such as the name of a browser. */
    device: text('device').notNull(),
    createdMs: integer('created_ms').notNull(),
    seenMs: integer('seen_ms').notNull(),
  },
  (table) => [index('sessions_of_person').on(table.personId), index('sessions_by_seen').on(table.seenMs)],
);

/** What programs sign in with, on behalf of a person. */
export const apiTokens = sqliteTable(
  'api_tokens',
  {
    id: text('id').primaryKey(),
    digest: text('digest').notNull().unique(),
    personId: text('person_id')
      .notNull()
      .references(() => people.id),
    name: text('name').notNull(),
    scope: text('scope').$type<Right>().notNull(),
    createdMs: integer('created_ms').notNull(),
    untilMs: integer('until_ms').notNull(),
    usedMs: integer('used_ms'),
  },
  (table) => [index('api_tokens_of_person').on(table.personId)],
);

/** Codes that let a person choose a password, once. */
export const oneTimeCodes = sqliteTable('one_time_codes', {
  digest: text('digest').primaryKey(),
  /** Null: whoever has it becomes the first owner. */
  personId: text('person_id').references(() => people.id),
  untilMs: integer('until_ms').notNull(),
});

/** Sign-ins that failed, by what they are counted by; a row goes when it has been quiet for a while. */
export const failedSignIns = sqliteTable(
  'failed_sign_ins',
  {
    key: text('key').primaryKey(),
    failures: integer('failures')
      .notNull()
      .default(sql`0`),
    lastMs: integer('last_ms').notNull(),
  },
  (table) => [index('failed_sign_ins_by_last').on(table.lastMs)],
);
