import { Type, type Static } from 'typebox';
import { CODE_KINDS, MARK_AT, MARK_PER } from '../../core/layout/marks/markSettings.ts';

const On = Type.Boolean();
const Mm = (maximum: number, minimum = 0) => Type.Number({ minimum, maximum });
const Pattern = Type.String({ maxLength: 200 });

/** Marks of a run, each on or off; docs/marks.md says what each is for. */
export const MarkSettingsView = Type.Object({
  crop: Type.Object({ on: On, lengthMm: Mm(50, 0.5), awayMm: Mm(50, 0.5) }),
  cut: Type.Optional(Type.Object({ on: On, lengthMm: Mm(50, 1) })),
  label: Type.Object({
    on: On,
    per: Type.Optional(Type.Enum([...MARK_PER])),
    at: Type.Optional(Type.Enum([...MARK_AT])),
    awayMm: Type.Optional(Mm(50, 0.5)),
    heightMm: Mm(50, 1),
    pattern: Pattern,
  }),
  pieceCode: Type.Optional(
    Type.Object({
      on: On,
      per: Type.Enum([...MARK_PER]),
      at: Type.Enum([...MARK_AT]),
      awayMm: Mm(50, 0.5),
      kind: Type.Enum([...CODE_KINDS]),
      heightMm: Mm(200, 3),
      pattern: Type.String({ minLength: 1, maxLength: 80 }),
      white: Type.Boolean(),
    }),
  ),
  code: Type.Object({
    on: On,
    kind: Type.Enum([...CODE_KINDS]),
    ends: Type.Enum(['head', 'foot', 'both']),
    heightMm: Mm(200, 3),
    pattern: Type.String({ minLength: 1, maxLength: 80 }),
    white: Type.Optional(Type.Boolean({ description: 'white under it, where the printer has white' })),
  }),
  slug: Type.Object({ on: On, heightMm: Mm(50, 1), pattern: Pattern }),
  registration: Type.Object({
    on: On,
    shape: Type.Enum(['dots', 'crosses']),
    sizeMm: Mm(50, 1),
    everyMm: Mm(10_000, 20),
  }),
  strip: Type.Object({
    on: On,
    edge: Type.Enum(['left', 'right', 'across']),
    widthMm: Mm(1000, 1),
    awayMm: Mm(200),
    aheadMm: Mm(500),
  }),
});
export type MarkSettingsView = Static<typeof MarkSettingsView>;
