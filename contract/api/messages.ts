import { type Static, Type } from 'typebox';
import { CAUSE_KINDS } from '../../core/messages/messageRules.ts';
import { ClockTime, Id, InstantMs, nullable } from './common.ts';

const Kinds = Type.Array(Type.Enum([...CAUSE_KINDS]), { maxItems: 10 });
const Address = Type.String({ minLength: 3, maxLength: 254, pattern: '^[^@\\s]+@[^@\\s]+$' });

/** What people are told of. */
export const CauseView = Type.Object({
  id: Id,
  kind: Type.Enum([...CAUSE_KINDS]),
  text: Type.String(),
  way: Type.String(),
  printerId: nullable(Id),
  openedMs: InstantMs,
  closedMs: nullable(InstantMs),
  seenMs: nullable(InstantMs),
  seenBy: nullable(Type.String()),
  sends: Type.Array(
    Type.Object({
      to: Type.String({ description: 'a person by name, or the address of a program' }),
      way: Type.Enum(['mail', 'webhook']),
      atMs: InstantMs,
      state: Type.Enum(['waiting', 'sent', 'failed']),
      escalated: Type.Boolean(),
      error: nullable(Type.String()),
    }),
  ),
});
export type CauseView = Static<typeof CauseView>;

/** Who is told of what. */
export const MessageRuleView = Type.Object({
  personId: Id,
  kinds: Kinds,
  repeatMin: nullable(Type.Integer({ minimum: 1, maximum: 1440 })),
  escalate: nullable(Type.Object({ afterMin: Type.Integer({ minimum: 1, maximum: 1440 }), personId: Id })),
});
export type MessageRuleView = Static<typeof MessageRuleView>;

export const WebhookView = Type.Object({
  id: nullable(Id),
  url: Type.String({ minLength: 8, maxLength: 500, pattern: '^https?://[^\\s]+$' }),
  kinds: Kinds,
  /** Shown once, when it is made. */
  secret: Type.Optional(Type.String()),
});
export type WebhookView = Static<typeof WebhookView>;

export const MailServerView = nullable(
  Type.Union([
    Type.Object({ kind: Type.Literal('stand-in') }),
    Type.Object({
      kind: Type.Literal('smtp'),
      host: Type.String({ minLength: 1, maxLength: 253, pattern: '^[^\\s/]+$' }),
      port: Type.Integer({ minimum: 1, maximum: 65_535 }),
      tls: Type.Boolean({ description: 'TLS from the first byte; else it is asked for' }),
      user: Type.String({ maxLength: 200 }),
      /** Only sent, never told; left out: as it was. */
      password: Type.Optional(Type.String({ maxLength: 500 })),
      from: Address,
    }),
  ]),
);
export type MailServerView = Static<typeof MailServerView>;

/** Who gets the page of the last week by mail, and when. */
export const WeekMail = Type.Object({
  personIds: Type.Array(Id, { minItems: 1, maxItems: 50 }),
  weekday: Type.Integer({ minimum: 1, maximum: 7, description: '1 Monday … 7 Sunday' }),
  at: ClockTime,
});
export type WeekMail = Static<typeof WeekMail>;

export const MessageSetup = Type.Object({
  mail: MailServerView,
  /** Left out: as it was. */
  week: Type.Optional(nullable(WeekMail)),
  rules: Type.Array(MessageRuleView, { maxItems: 200 }),
  webhooks: Type.Array(WebhookView, { maxItems: 20 }),
});
export type MessageSetup = Static<typeof MessageSetup>;

export const MessageSetupAnswer = Type.Object({
  ...MessageSetup.properties,
  /** Who could be told: people with their mail address. */
  people: Type.Array(Type.Object({ id: Id, name: Type.String(), mail: nullable(Type.String()) })),
  /** Where the demo's mail can be read; null: there is no stand-in. */
  standInUrl: nullable(Type.String()),
});
export type MessageSetupAnswer = Static<typeof MessageSetupAnswer>;

export const TestMail = Type.Object({ to: Address });
export const MailAway = Type.Object({ to: Address, fromMs: InstantMs, toMs: InstantMs });
