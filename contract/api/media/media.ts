import { Type, type Static } from 'typebox';
import { Id, InstantMs, Mm, nullable } from '../common.ts';
import { SpoolView } from '../floor.ts';

/** How long texts and lengths of a spool may be, whether they come by form or by list. */
export const SPOOL_LIMITS = { label: 40, lot: 60, place: 60, lengthMm: 1e8 } as const;

export const SpoolCreate = Type.Object({
  stockId: Id,
  label: Type.String({ minLength: 1, maxLength: SPOOL_LIMITS.label }),
  lot: Type.String({ maxLength: SPOOL_LIMITS.lot }),
  lengthMm: Type.Number({ exclusiveMinimum: 0, maximum: SPOOL_LIMITS.lengthMm }),
  widthMm: Type.Optional(Mm),
  kind: Type.Optional(Type.Enum(['roll', 'offcut'])),
  place: Type.Optional(Type.String({ maxLength: SPOOL_LIMITS.place })),
  /** What was scanned off its carton: remembered for its stock. */
  code: Type.Optional(Type.String({ minLength: 1, maxLength: 60 })),
});
export type SpoolCreate = Static<typeof SpoolCreate>;

export const SpoolCorrect = Type.Object({
  leftMm: Type.Number({ minimum: 0, maximum: 1e8 }),
  reason: Type.String({ minLength: 1, maxLength: 200, description: 'why the ledger was wrong; not blank' }),
});

export const SpoolOffcut = Type.Object({
  lengthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e8 }),
  label: Type.String({ minLength: 1, maxLength: 40 }),
});

export const SpoolDetail = Type.Object({
  ...SpoolView.properties,
  ledger: Type.Array(
    Type.Object({
      kind: Type.String(),
      mm: Type.Number(),
      runId: nullable(Id),
      runName: nullable(Type.String()),
      atMs: InstantMs,
      reason: nullable(Type.String()),
    }),
  ),
});
export type SpoolDetail = Static<typeof SpoolDetail>;
