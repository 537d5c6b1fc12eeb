import { type Static, Type } from 'typebox';
import { AWAY_LACKS } from '../../core/away/awayEvents.ts';
import { AWAY_STATES } from '../../core/away/awayPeriod.ts';
import { Id, InstantMs, nullable } from './common.ts';

const Minor = Type.Number({ description: 'minor units of the shop’s money' });

/** Something that could be done before leaving, or planned otherwise. */
export const AwayChangeView = Type.Union([
  Type.Object({ kind: Type.Literal('load'), printerId: Id, sourceId: Id, spoolId: Id }),
  Type.Object({ kind: Type.Literal('add'), spoolId: Id, mm: Type.Number({ exclusiveMinimum: 0, maximum: 1e7 }) }),
  Type.Object({
    kind: Type.Literal('fill'),
    printerId: Id,
    channelId: Id,
    ml: Type.Number({ exclusiveMinimum: 0, maximum: 1e6 }),
  }),
  Type.Object({ kind: Type.Literal('empty'), printerId: Id }),
  Type.Object({ kind: Type.Literal('turn'), runId: Id }),
  Type.Object({ kind: Type.Literal('clean'), printerId: Id }),
  Type.Object({ kind: Type.Literal('order'), printerId: Id, runIds: Type.Array(Id, { maxItems: 1000 }) }),
  Type.Object({ kind: Type.Literal('leave'), runId: Id }),
  Type.Object({ kind: Type.Literal('split'), runId: Id }),
  Type.Object({
    kind: Type.Literal('move'),
    runId: Id,
    printerId: Id,
    modeId: Id,
    estimateMs: Type.Number({ minimum: 0, maximum: 1e10 }),
    needMm: Type.Number({ minimum: 0, maximum: 1e8 }),
    outMm: Type.Number({ minimum: 0, maximum: 1e8 }),
  }),
  Type.Object({ kind: Type.Literal('thin'), timerId: Id, share: Type.Number({ exclusiveMinimum: 0, maximum: 1 }) }),
]);
export type AwayChangeView = Static<typeof AwayChangeView>;

export const AwayPeriodView = Type.Object({ fromMs: InstantMs, toMs: InstantMs });

export const AwayAsk = Type.Object({
  ...AwayPeriodView.properties,
  nights: Type.Optional(
    Type.Integer({ minimum: 0, maximum: 20_000, description: 'simulated for the odds; 2,000 unless said' }),
  ),
  seed: Type.Optional(
    Type.Integer({ minimum: 0, maximum: 2 ** 31 - 1, description: 'the same seed gives the same nights' }),
  ),
  changes: Type.Optional(
    Type.Array(AwayChangeView, { maxItems: 100, description: 'as if that were done; nothing is' }),
  ),
});
export type AwayAsk = Static<typeof AwayAsk>;

export const AwayEventView = Type.Object({
  id: Type.String(),
  printerId: Id,
  kind: Type.Enum(['run', 'purge', 'check', 'clean', 'stir', 'feed', 'release']),
  what: Type.String(),
  atMs: Type.Number(),
  toMs: Type.Number(),
  outcome: Type.Enum(['done', 'skipped', 'impossible', 'hand'], {
    description: 'impossible: it can’t, since something is missing; hand: it needs a person',
  }),
  why: Type.String(),
  lacks: nullable(Type.Enum([...AWAY_LACKS], { description: 'the supply that is missing; null: none is' })),
  pieces: Type.Number(),
  share: Type.Number({ description: 'of a run that is printed by the end' }),
  lateMs: Type.Number(),
});
export type AwayEventView = Static<typeof AwayEventView>;

export const SupplyView = Type.Object({
  kind: Type.Enum(['spool', 'ink', 'basket']),
  printerId: Id,
  id: Type.String(),
  name: Type.String(),
  spoolId: nullable(Id),
  colour: Type.String(),
  unit: Type.Enum(['mm', 'ml']),
  full: Type.Number(),
  points: Type.Array(Type.Object({ atMs: Type.Number(), amount: Type.Number() })),
  endsMs: nullable(Type.Number({ description: 'when it ends, or is full' })),
});
export type SupplyView = Static<typeof SupplyView>;

export const AwayFiguresView = Type.Object({
  runs: Type.Integer(),
  pieces: Type.Number(),
  metres: Type.Number(),
  worthMinor: Minor,
  lateRuns: Type.Integer(),
  careDone: Type.Integer(),
  careLost: Type.Integer(),
});
export type AwayFiguresView = Static<typeof AwayFiguresView>;

export const AwayActionView = Type.Object({
  key: Type.String(),
  kind: Type.Enum(['hand', 'plan']),
  text: Type.String(),
  change: nullable(AwayChangeView),
  minutes: Type.Number({ description: 'of hands' }),
  gain: Type.Object({ pieces: Type.Number(), care: Type.Number(), worthMinor: Minor }),
});
export type AwayActionView = Static<typeof AwayActionView>;

export const OddsView = Type.Object({
  chance: Type.Number({ description: 'share of the simulated nights' }),
  error: Type.Number({ description: 'standard error' }),
});
export type OddsView = Static<typeof OddsView>;

export const AwaySimulation = Type.Object({
  ...AwayPeriodView.properties,
  planHash: Type.String({ description: 'of the floor as it is now: arming is refused once it is another' }),
  currency: Type.String(),
  figures: AwayFiguresView,
  events: Type.Array(AwayEventView),
  supplies: Type.Array(SupplyView),
  before: Type.Array(AwayActionView),
  odds: Type.Object({
    nights: Type.Integer(),
    all: nullable(OddsView),
    byRun: Type.Record(Type.String(), OddsView),
    worth: nullable(Type.Object({ meanMinor: Minor, lowMinor: Minor, highMinor: Minor })),
  }),
  driversTaskId: nullable(Type.String({ description: 'the task that finds what would raise the odds most' })),
});
export type AwaySimulation = Static<typeof AwaySimulation>;

/** What would raise the odds most: the answer of the task that a simulation names. */
export const AwayDrivers = Type.Array(
  Type.Object({ key: Type.String(), text: Type.String(), minutes: Type.Number(), gain: OddsView }),
);
export type AwayDrivers = Static<typeof AwayDrivers>;

export const NamedPeriodView = Type.Object({
  name: Type.Enum(['tonight', 'the weekend', 'a week']),
  ...AwayPeriodView.properties,
});

/** A time away that was armed. */
export const AwayView = Type.Object({
  id: Id,
  ...AwayPeriodView.properties,
  state: Type.Enum([...AWAY_STATES]),
  armedMs: InstantMs,
  armedBy: Type.String(),
  endedMs: nullable(InstantMs),
  figures: AwayFiguresView,
  events: Type.Array(AwayEventView),
  odds: nullable(OddsView),
  came: nullable(Type.Boolean({ description: 'every run that was planned was printed; null: it isn’t over' })),
  seenMs: nullable(InstantMs),
});
export type AwayView = Static<typeof AwayView>;

/** What there is to leave for, and what is armed. */
export const AwayNow = Type.Object({
  suggested: Type.Array(NamedPeriodView),
  armed: nullable(AwayView),
  /** The last that is over, until somebody has looked at it. */
  toLookAt: nullable(Id),
});
export type AwayNow = Static<typeof AwayNow>;

export const ArmAway = Type.Object({ ...AwayPeriodView.properties, planHash: Type.String({ maxLength: 80 }) });
export type ArmAway = Static<typeof ArmAway>;

/** What the odds of a plan were learned from, printer by printer and stock by stock. */
export const AwayLearned = Type.Object({
  printers: Type.Array(
    Type.Object({
      printerId: Id,
      name: Type.String(),
      faults: Type.Integer(),
      hours: Type.Number(),
      othersFaults: Type.Integer(),
      othersHours: Type.Number(),
      rate: Type.Number({ description: 'faults per hour of printing' }),
      low: Type.Number({ description: '90 % range' }),
      high: Type.Number(),
      /** The night with most of its faults; null: it had none. */
      worst: nullable(
        Type.Object({
          fromMs: InstantMs,
          faults: Type.Integer(),
          causes: Type.Array(Type.String()),
          rateWithout: Type.Number(),
        }),
      ),
      timeFactor: Type.Number({ description: 'actual ÷ estimated time' }),
      timeRuns: Type.Integer(),
    }),
  ),
  stocks: Type.Array(
    Type.Object({
      stockId: Id,
      name: Type.String(),
      jams: Type.Integer(),
      flaws: Type.Integer(),
      metres: Type.Number(),
    }),
  ),
  repair: Type.Object({ minutes: Type.Number(), seen: Type.Integer() }),
});
export type AwayLearned = Static<typeof AwayLearned>;

/** How a time away came out. */
export const MorningView = Type.Object({
  ...AwayView.properties,
  currency: Type.String(),
  lines: Type.Array(
    Type.Object({
      planned: AwayEventView,
      happened: nullable(
        Type.Object({
          state: Type.Enum(['done', 'failed', 'cancelled', 'skipped', 'impossible', 'under way', 'waiting', 'gone']),
          startedMs: nullable(Type.Number()),
          endedMs: nullable(Type.Number()),
          why: Type.String(),
          pieces: Type.Number(),
          lostPieces: Type.Number(),
          lostMm: Type.Number(),
        }),
      ),
      verdict: Type.Enum(['as planned', 'later', 'instead', 'not done', 'left out']),
      why: Type.String(),
      again: Type.Boolean({ description: 'a part of it can be printed again' }),
    }),
  ),
  sums: Type.Object({
    planned: Type.Integer(),
    asPlanned: Type.Integer(),
    runsPlanned: Type.Integer(),
    runsDone: Type.Integer(),
    piecesPlanned: Type.Number(),
    piecesDone: Type.Number(),
    lostPieces: Type.Number(),
    lostMm: Type.Number(),
    lostMinor: Minor,
  }),
  /** When printers stood, and why. */
  stops: Type.Array(Type.Object({ printerId: Id, fromMs: InstantMs, toMs: nullable(InstantMs), why: Type.String() })),
  checkFirst: nullable(Type.Object({ printerId: Id, name: Type.String(), why: Type.String() })),
  /** How good the odds of the last times away have been; null: none has ended yet. */
  record: nullable(
    Type.Object({
      nights: Type.Integer(),
      said: Type.Number({ description: 'mean of the odds that were said' }),
      came: Type.Number({ description: 'share that came true' }),
      brier: Type.Number(),
      reliability: Type.Number(),
      skill: Type.Number(),
    }),
  ),
});
export type MorningView = Static<typeof MorningView>;

export const NightAsk = Type.Object({
  ...AwayPeriodView.properties,
  promised: Type.Optional(
    Type.Array(Type.String({ maxLength: 80 }), {
      maxItems: 200,
      description: 'units that must be there in the morning, besides those whose dates say so',
    }),
  ),
  confidence: Type.Optional(Type.Number({ minimum: 0.5, maximum: 0.99, description: '0.9 unless said' })),
  seed: Type.Optional(Type.Integer({ minimum: 0, maximum: 2 ** 31 - 1 })),
});
export type NightAsk = Static<typeof NightAsk>;

const NightSideView = Type.Object({
  runs: Type.Integer(),
  pieces: Type.Number(),
  metres: Type.Number(),
  worthMinor: Minor,
  worthError: Type.Number(),
  /** Chance that everything promised is printed; null: nothing is. */
  promised: nullable(Type.Number()),
  /** With a date, and not printed by morning. */
  late: Type.Integer(),
  purges: Type.Object({
    printed: Type.Integer(),
    skipped: Type.Integer({ description: 'since work exercises their channels' }),
  }),
});

/** A better night beside the plan as it stands. Nothing is moved until it is accepted. */
export const NightProposal = Type.Object({
  /** Null: nothing is to be accepted. */
  id: nullable(Id),
  currency: Type.String(),
  confidence: Type.Number(),
  standing: NightSideView,
  proposed: NightSideView,
  gainMinor: Minor,
  gainError: Type.Number(),
  isBetter: Type.Boolean(),
  fallsShort: Type.Boolean({ description: 'no plan reaches the confidence: this one comes nearest' }),
  moves: Type.Array(
    Type.Object({
      unitId: Type.String(),
      name: Type.String(),
      fromPrinterId: nullable(Id),
      toPrinterId: Id,
      at: Type.Integer({ description: 'its place in the line, from 0' }),
    }),
  ),
  units: Type.Array(
    Type.Object({
      id: Type.String(),
      name: Type.String(),
      pieces: Type.Integer(),
      valueMinor: Minor,
      promised: Type.Boolean(),
      /** That it is printed by morning: as it stands, and as proposed. */
      chanceNow: nullable(Type.Number()),
      chanceThen: nullable(Type.Number()),
    }),
  ),
  /** Units that could be promised together with the confidence. */
  promise: Type.Array(Type.String()),
});
export type NightProposal = Static<typeof NightProposal>;
