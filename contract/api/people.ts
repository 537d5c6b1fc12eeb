import { Type, type Static } from 'typebox';
import { THEMES, UNITS } from '../../core/people/preferences.ts';
import { RIGHTS, ROLES } from '../../core/people/rights.ts';
import { ClockTime, DayHours, Id, nullable } from './common.ts';

const RealMs = Type.Integer({ description: 'UTC instant in milliseconds, clock of the server' });
/** Long enough for every sentence, short enough to be turned into a key in no time. */
const Secret = Type.String({ minLength: 1, maxLength: 128 });
const SignInName = Type.String({
  minLength: 2,
  maxLength: 60,
  pattern: '^[A-Za-z0-9][A-Za-z0-9._@-]*$',
  description: 'letters, digits, dot, dash, underscore and @; large and small letters are the same',
});

export const Role = Type.Enum([...ROLES]);
export const Right = Type.Enum([...RIGHTS]);

/** What a person has chosen for themselves; see core/people/preferences.ts. */
const PreferenceValues = Type.Object({
  sound: Type.Boolean(),
  notify: Type.Boolean(),
  units: Type.Enum([...UNITS]),
  locale: Type.String({ minLength: 2, maxLength: 35, pattern: '^[A-Za-z0-9-]+$' }),
  theme: Type.Enum([...THEMES]),
  guideStep: nullable(Type.Integer({ minimum: -1, maximum: 99 })),
  dropQueueId: nullable(Id),
  floorHours: nullable(Type.Number({ exclusiveMinimum: 0, maximum: 10_000 })),
  intakeView: Type.Unknown(),
  intakeViews: Type.Array(Type.Unknown(), { maxItems: 100 }),
  paceViews: Type.Array(
    Type.Object({
      name: Type.String({ minLength: 1, maxLength: 60 }),
      search: Type.String({ maxLength: 600, description: 'of the address of Pace' }),
    }),
    { maxItems: 100 },
  ),
});

export const PreferenceChange = Type.Partial(PreferenceValues, { minProperties: 1, additionalProperties: false });
export type PreferenceChange = Static<typeof PreferenceChange>;

/** What an owner sets of a person. */
export const PersonBody = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  does: Type.String({ maxLength: 120 }),
  role: Role,
  mail: nullable(Type.String({ maxLength: 200 })),
  /** When they are there; null: as the shop is. */
  hours: nullable(Type.Array(DayHours, { maxItems: 28 })),
  /** No message is sent then; it may go past midnight. */
  quiet: nullable(Type.Object({ from: ClockTime, to: ClockTime })),
});
export type PersonBody = Static<typeof PersonBody>;

export const PersonView = Type.Object({
  ...PersonBody.properties,
  id: Id,
  signInName: nullable(Type.String()),
  hasPassword: Type.Boolean(),
  usesCodes: Type.Boolean({ description: 'one-time codes are asked for' }),
  usesProvider: Type.Boolean({ description: 'has signed in by the provider' }),
  sessions: Type.Integer(),
});
export type PersonView = Static<typeof PersonView>;

export const PersonChange = Type.Partial(PersonBody, { minProperties: 1 });

/** Told once, to be handed on. */
export const OneTimeCode = Type.Object({ code: Type.String(), untilMs: RealMs });
export type OneTimeCode = Static<typeof OneTimeCode>;

/** Who is at this page, and what they may do. */
export const Me = Type.Object({
  /** Off: whoever is at this machine may do everything. */
  signIn: Type.Enum(['off', 'on']),
  /** Sign-in is wanted, and nobody can set anything up yet: the code that the server printed makes the first owner. */
  ownerWanted: Type.Boolean(),
  /** The sign-in provider, where there is one: its name. */
  provider: nullable(Type.String()),
  right: nullable(Right),
  person: nullable(
    Type.Object({
      id: Id,
      name: Type.String(),
      role: Role,
      signInName: nullable(Type.String()),
      hasPassword: Type.Boolean(),
      usesCodes: Type.Boolean(),
    }),
  ),
  preferences: nullable(Type.Partial(PreferenceValues)),
});
export type Me = Static<typeof Me>;

export const SignIn = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 60 }),
  password: Secret,
  /** Of those who use one-time codes. */
  code: Type.Optional(Type.String({ maxLength: 20 })),
});

/** A new person who sets everything up, and who signs in at once. */
export const FirstOwner = Type.Object({
  /** As the server printed it; not asked for while sign-in is off. */
  code: Type.Optional(Type.String({ maxLength: 60 })),
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  signInName: SignInName,
  password: Secret,
});
export type FirstOwner = Static<typeof FirstOwner>;

/** A person who has been given a code chooses how to sign in. */
export const TakeCode = Type.Object({
  code: Type.String({ minLength: 1, maxLength: 60 }),
  signInName: SignInName,
  password: Secret,
});
export type TakeCode = Static<typeof TakeCode>;

export const PasswordChange = Type.Object({ present: Secret, next: Secret });

export const SessionView = Type.Object({
  id: Id,
  device: Type.String(),
  createdMs: RealMs,
  seenMs: RealMs,
  here: Type.Boolean({ description: 'the one that asks' }),
});
export type SessionView = Static<typeof SessionView>;

export const TokenBody = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' }),
  scope: Right,
  days: Type.Integer({ minimum: 1, maximum: 366 }),
});
export type TokenBody = Static<typeof TokenBody>;

export const TokenView = Type.Object({
  id: Id,
  name: Type.String(),
  scope: Right,
  createdMs: RealMs,
  untilMs: RealMs,
  usedMs: nullable(RealMs),
});
export type TokenView = Static<typeof TokenView>;

/** The token itself is told once. */
export const NewToken = Type.Object({ ...TokenView.properties, token: Type.String() });

/** What an app for one-time codes is told, and what proves that it was. */
export const TotpOffer = Type.Object({ secret: Type.String(), uri: Type.String() });
export type TotpOffer = Static<typeof TotpOffer>;
export const TotpProof = Type.Object({
  secret: Type.String({ minLength: 16, maxLength: 64 }),
  code: Type.String({ maxLength: 20 }),
});
export const PasswordProof = Type.Object({ password: Secret });

/** Where people can sign in with an account that they have elsewhere (OpenID Connect). */
export const ProviderBody = Type.Object({
  /** As people know it. */
  name: Type.String({ minLength: 1, maxLength: 60 }),
  issuer: Type.String({ minLength: 1, maxLength: 300, pattern: '^https?://[^\\s]+$' }),
  clientId: Type.String({ minLength: 1, maxLength: 300 }),
  /** Left out: it stays. */
  clientSecret: Type.Optional(Type.String({ maxLength: 500 })),
});
export type ProviderBody = Static<typeof ProviderBody>;
export const ProviderView = Type.Object({
  provider: nullable(
    Type.Object({ name: Type.String(), issuer: Type.String(), clientId: Type.String(), hasSecret: Type.Boolean() }),
  ),
  /** To be entered at the provider. */
  returnTo: Type.String(),
});
export type ProviderView = Static<typeof ProviderView>;
export const ProviderGo = Type.Object({ url: Type.String() });
export const ProviderBack = Type.Object({
  /** The query of the address that the provider sent the browser back to. */
  query: Type.String({ maxLength: 8000 }),
});

/** Whether people have to sign in. */
export const SignInSwitch = Type.Object({ on: Type.Boolean() });
