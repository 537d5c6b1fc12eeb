import { Type, type Static } from 'typebox';
import { RULE_FIGURES, RULE_TEXTS } from '../../core/routing/rules.ts';
import { FitTrouble } from './fit.ts';
import { DayHours, Id, nullable } from './common.ts';

/** When people are there, and what holds for the whole shop. */
export const ShopSetup = Type.Object({
  zone: Type.String({ maxLength: 60 }),
  days: Type.Array(DayHours, { maxItems: 28 }),
  holidays: Type.Array(
    Type.Object({
      date: Type.String({ pattern: '^\\d{4}-\\d\\d-\\d\\d$' }),
      name: Type.String({ minLength: 1, maxLength: 80 }),
    }),
    { maxItems: 400 },
  ),
  /** A stock that lasts fewer open days than this is to be ordered. */
  orderAheadDays: Type.Integer({ minimum: 0, maximum: 250 }),
  /** What a piece without a price of its own brings beyond its cost, as a share of it. */
  marginShare: Type.Optional(Type.Number({ minimum: 0, maximum: 20 })),
  /** Nothing is quoted for less (minor units). */
  leastPriceMinor: Type.Optional(Type.Integer({ minimum: 0, maximum: 1e9 })),
  /** Room on the disk of the data folder below which nothing new is taken or sent; null: as the server was started. */
  leastFreeMb: Type.Optional(nullable(Type.Integer({ minimum: 1, maximum: 1_000_000 }))),
  /** Names, besides this machine's own, under which browsers may reach the shop. */
  hostNames: Type.Optional(
    Type.Array(Type.String({ minLength: 1, maxLength: 253, pattern: '^[A-Za-z0-9.-]+(:[0-9]{1,5})?$' }), {
      maxItems: 20,
    }),
  ),
});
export type ShopSetup = Static<typeof ShopSetup>;

/** One thing that a rule looks at: words, a figure, or a choice. */
export const RuleConditionView = Type.Union([
  Type.Object({
    about: Type.Enum([...RULE_TEXTS]),
    is: Type.Enum(['is', 'contains', 'is not']),
    text: Type.String({ maxLength: 200 }),
  }),
  Type.Object({
    about: Type.Enum([...RULE_FIGURES]),
    is: Type.Enum(['over', 'at most']),
    figure: Type.Number({ minimum: 0, maximum: 1e9 }),
  }),
]);

export const RuleView = Type.Object({
  id: Id,
  name: Type.String({ minLength: 1, maxLength: 80 }),
  when: Type.Array(RuleConditionView, { maxItems: 12 }),
  printerIds: Type.Array(Id, { minItems: 1, maxItems: 12 }),
  on: Type.Boolean(),
});
export type RuleView = Static<typeof RuleView>;

/** All rules in their order; the whole list is set at once. */
export const RuleList = Type.Array(RuleView, { maxItems: 200 });
export type RuleList = Static<typeof RuleList>;

/** What rules would do with jobs, without doing it. */
export const DryRun = Type.Object({
  jobs: Type.Array(
    Type.Object({
      jobId: Id,
      sourceName: Type.String(),
      printerName: Type.String({ description: 'where it is now' }),
      ruleName: Type.Union([Type.String(), Type.Null()]),
      toPrinterName: Type.Union([Type.String(), Type.Null()]),
      passedOver: Type.Array(Type.String()),
      current: Type.Boolean({ description: 'waits now; else it came in the last 30 days' }),
    }),
  ),
  byRule: Type.Record(Type.String(), Type.Object({ jobs: Type.Integer(), moved: Type.Integer() })),
});
export type DryRun = Static<typeof DryRun>;

/** A move before it is made: whether it can be, why not, and the figures here and there. */
export const MoveOffer = Type.Object({
  runId: Id,
  printerId: Id,
  can: Type.Boolean(),
  troubles: Type.Array(FitTrouble),
  before: Type.Union([
    Type.Null(),
    Type.Object({
      lengthMm: Type.Number(),
      timeMs: Type.Number(),
      totalMinor: Type.Integer(),
      endMs: Type.Integer(),
      lateMs: Type.Integer(),
    }),
  ]),
  after: Type.Union([
    Type.Null(),
    Type.Object({
      lengthMm: Type.Number(),
      timeMs: Type.Number(),
      totalMinor: Type.Integer(),
      endMs: Type.Integer(),
      lateMs: Type.Integer(),
    }),
  ]),
});
export type MoveOffer = Static<typeof MoveOffer>;
