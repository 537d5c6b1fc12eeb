import { Type, type Static } from 'typebox';

export const Id = Type.String({ minLength: 1, maxLength: 64, pattern: '^[a-z0-9][a-z0-9-]*$' });
export const Mm = Type.Number({ minimum: 0, maximum: 1e7 });
export const InstantMs = Type.Integer({ description: 'UTC instant in milliseconds, shop clock' });

/** A time of day, local. */
export const ClockTime = Type.String({ pattern: '^([01]\\d|2[0-4]):[0-5]\\d$' });

/** Hours of one weekday, 1 is Monday. */
export const DayHours = Type.Object({
  weekday: Type.Integer({ minimum: 1, maximum: 7 }),
  from: ClockTime,
  to: ClockTime,
  people: Type.Optional(Type.Integer({ minimum: 1, maximum: 200, description: 'so many are there; left out: one' })),
});

export const nullable = <T extends Parameters<typeof Type.Union>[0][number]>(schema: T) =>
  Type.Union([schema, Type.Null()]);

/** The one body of every refusal: what is wrong with its figures, and the nearest way out. */
export const ErrorDetail = Type.Object({
  code: Type.String(),
  message: Type.String(),
  figures: Type.Optional(Type.Record(Type.String(), Type.Unknown())),
  remedy: Type.Optional(Type.String()),
});
export type ErrorDetail = Static<typeof ErrorDetail>;

export const ErrorBody = Type.Object({ error: ErrorDetail });
export type ErrorBody = Static<typeof ErrorBody>;

/** What would take an action back; the wire offers it. */
export const UndoStep = Type.Object({
  label: Type.String(),
  method: Type.Union([Type.Literal('POST'), Type.Literal('PUT'), Type.Literal('PATCH')]),
  path: Type.String(),
  body: Type.Optional(Type.Unknown()),
});
export type UndoStep = Static<typeof UndoStep>;

/** A row of the event log: what happened as a kind and its figures. The sentence is made where it is shown. */
export const LogEvent = Type.Object({
  id: Type.Integer(),
  atMs: InstantMs,
  kind: Type.String(),
  subjectType: Type.String(),
  subjectId: Type.String(),
  who: Type.String({ description: 'who did it, by name' }),
  actorKind: Type.Enum(['person', 'timer', 'device', 'program']),
  actorId: nullable(Type.String({ description: 'of the person, timer or device; null in rows of an earlier version' })),
  data: Type.Unknown({ description: 'what belongs to its kind; null in rows of an earlier version' }),
  text: Type.String({ description: 'the sentence of a row of an earlier version, else empty' }),
  undo: Type.Optional(UndoStep),
});
export type LogEvent = Static<typeof LogEvent>;

export const ClockView = Type.Object({
  shopMs: InstantMs,
  rate: Type.Number({ minimum: 0, maximum: 3600 }),
  /** Where it stands still again; null: it just runs. */
  untilMs: Type.Union([InstantMs, Type.Null()]),
  zone: Type.String(),
});
export type ClockView = Static<typeof ClockView>;

export const ClockChange = Type.Object({ rate: Type.Number({ minimum: 0, maximum: 3600 }) });
export const ClockStep = Type.Object({ byMs: Type.Integer({ minimum: 1, maximum: 86_400_000 }) });
export const Nothing = Type.Object({});

const Ring = Type.Array(Type.Object({ x: Type.Number(), y: Type.Number() }));

/** From the upper left corner of the piece (mm). */
export const ContourView = Type.Object({
  cut: Type.Array(Ring, { description: 'what the cutter follows' }),
  outline: Type.Array(Type.Object({ x: Type.Number(), y: Type.Number() }), { description: 'all that is printed' }),
});
