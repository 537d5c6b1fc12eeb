import { Type, type Static } from 'typebox';
import { NOZZLE_FAULTS } from '../../core/heads/nozzleFaults.ts';
import { ReadNozzles } from '../machine/protocol.ts';
import { Id, InstantMs, Mm, nullable } from './common.ts';

const Nozzle = Type.Integer({ minimum: 0 });
const Nozzles = Type.Array(Nozzle, { maxItems: 100_000 });

/** Where every nozzle of a printer draws its line on its check plot. Lengths mm, from the corner where its first line lies. */
export const CheckPlotView = Type.Object({
  widthMm: Mm,
  heightMm: Mm,
  marks: Type.Array(
    Type.Object({
      id: Type.Integer({ description: 'within its dictionary' }),
      dictionary: Type.String(),
      block: Type.Integer(),
      xMm: Mm,
      yMm: Mm,
      sizeMm: Mm,
    }),
  ),
  blocks: Type.Array(
    Type.Object({
      index: Type.Integer(),
      channelId: Id,
      head: Type.Integer(),
      firstN: Nozzle,
      count: Type.Integer(),
      distanceMm: Type.Number({ description: 'between two lines of one column' }),
      direction: Type.Enum(['across', 'along the feed'], { description: 'which way its lines go' }),
      ground: Type.Enum(['light', 'dark'], { description: 'media on which it shows' }),
      code: Type.String(),
      xMm: Mm,
      yMm: Mm,
      widthMm: Mm,
      heightMm: Mm,
    }),
  ),
  channels: Type.Array(
    Type.Object({
      id: Id,
      nozzles: Type.Array(
        Type.Object({
          head: Type.Integer({ description: 'or bar of an array' }),
          n: Type.Integer({ description: 'from 0, unique within its channel' }),
          xMm: Mm,
          yMm: Mm,
          lengthMm: Mm,
          thicknessMm: Mm,
        }),
      ),
    }),
  ),
});
export type CheckPlotView = Static<typeof CheckPlotView>;

/** What a picture of a check plot shows. */
export const PlotReadingView = Type.Object({
  channels: Type.Array(Type.Object({ id: Id, missing: Nozzles, weak: Nozzles, crooked: Nozzles, unjudged: Nozzles })),
  confidence: nullable(
    Type.Number({ description: 'share of the judged nozzles that it is sure of; null: none could be judged' }),
  ),
  blocks: Type.Integer({ description: 'of the plot that were found' }),
  of: Type.Integer(),
  off: Type.Array(
    Type.Object({ channelId: Id, n: Nozzle, mm: Type.Number({ description: 'how far a crooked line lies off' }) }),
  ),
});
export type PlotReadingView = Static<typeof PlotReadingView>;

export const FoundNozzlesView = Type.Object({ ...ReadNozzles.properties, unjudged: Nozzles });

/** What a person says that a check shows. */
export const CheckReadingBody = Type.Object({
  by: Type.Enum(['eye', 'photo']),
  confidence: nullable(Type.Number({ minimum: 0, maximum: 1 })),
  found: Type.Record(Type.String(), FoundNozzlesView),
});
export type CheckReadingBody = Static<typeof CheckReadingBody>;

const Counts = Type.Object(
  Object.fromEntries(NOZZLE_FAULTS.map((fault) => [fault, Type.Integer()])) as Record<
    (typeof NOZZLE_FAULTS)[number],
    ReturnType<typeof Type.Integer>
  >,
);

/** A check plot, printed and perhaps read. */
export const CheckView = Type.Object({
  id: Id,
  printerId: Id,
  channelIds: Type.Array(Id),
  printedMs: InstantMs,
  readMs: nullable(InstantMs),
  by: nullable(Type.Enum(['device', 'eye', 'photo'])),
  who: nullable(Type.String()),
  confidence: nullable(Type.Number()),
  found: nullable(Type.Record(Type.String(), FoundNozzlesView)),
});
export type CheckView = Static<typeof CheckView>;

export const HEAD_ACTIONS = ['light', 'deep', 'rest'] as const;

/** What to do next for channels of a printer, cheapest first. */
export const AdviceView = Type.Object({
  what: Type.Enum(['nothing', 'ladder', 'service']),
  channelIds: Type.Array(Id),
  nothingMinor: Type.Integer({ description: 'what doing nothing is expected to cost in planned runs' }),
  ladderMinor: Type.Integer({ description: 'expected cost of the ladder' }),
  serviceMinor: Type.Integer(),
  rungs: Type.Array(
    Type.Object({
      action: Type.Enum([...HEAD_ACTIONS]),
      costMinor: Type.Integer({ description: 'ink, time and the check behind it' }),
      inkMl: Type.Number(),
      minutes: Type.Number(),
      chance: Type.Number({ description: 'that it helps, by what it did here' }),
      helped: Type.Integer(),
      tried: Type.Integer(),
    }),
  ),
});
export type AdviceView = Static<typeof AdviceView>;

export const HeadChannelView = Type.Object({
  id: Id,
  name: Type.String(),
  colour: Type.String(),
  pricePerMlMicro: Type.Integer(),
  heads: Type.Integer(),
  nozzles: Type.Integer({ description: 'of one head; of an array all across it' }),
  /** As last read; null: never. */
  faults: nullable(ReadNozzles),
  checkedMs: nullable(InstantMs),
  counts: Counts,
  exercisedMs: nullable(InstantMs),
  /** What it has fired last, the latest first. */
  firings: Type.Array(
    Type.Object({
      toMs: InstantMs,
      ml: Type.Number(),
      purpose: Type.Enum(['run', 'fill', 'care', 'purge', 'check', 'clean', 'exercise', 'change']),
    }),
  ),
  idleLimitH: Type.Number(),
  risk: nullable(Type.Enum(['fresh', 'due', 'overdue'])),
  /** Chance that a nozzle has clogged since it was last exercised, by now and by the end of the coming night as it is planned. */
  clogChance: nullable(Type.Number()),
  clogChanceByMorning: nullable(Type.Number()),
  rate: Type.Object({
    mean: Type.Number(),
    low: Type.Number(),
    high: Type.Number(),
    form: Type.Enum(['cubic', 'linear', 'late']),
    clogs: Type.Integer({ description: 'that checks have found so far' }),
  }),
});
export type HeadChannelView = Static<typeof HeadChannelView>;

/** The heads of one printer: whether it can print well right now. */
export const HeadsView = Type.Object({
  printerId: Id,
  name: Type.String(),
  form: Type.String(),
  head: Type.Enum(['carriage', 'page-wide']),
  bars: Type.Integer(),
  readsChecks: Type.Boolean(),
  channels: Type.Array(HeadChannelView),
  /** Which modes it can print in, and of those it can't which channels are in the way. */
  modes: Type.Array(
    Type.Object({
      id: Id,
      name: Type.String(),
      unfit: Type.Array(Type.Object({ channelId: Id, text: Type.String() })),
      /** Weak columns of an array that no mode minds. */
      banding: Type.Array(Id),
    }),
  ),
  checks: Type.Array(CheckView),
  checkToRead: nullable(Id),
  advice: nullable(AdviceView),
  /** Ink that care has fired, by month (`2026-10`), the latest last. */
  careInk: Type.Array(
    Type.Object({ month: Type.String(), ml: Type.Record(Type.String(), Type.Number()), costMinor: Type.Integer() }),
  ),
  /** How far each stock that is loaded is fed. */
  feeds: Type.Array(
    Type.Object({
      stockId: Id,
      stockName: Type.String(),
      factor: nullable(Type.Number({ description: 'fed ÷ told; null: not measured' })),
      measuredMs: nullable(InstantMs),
      toMeasure: Type.Boolean({ description: 'two bars are printed and wait to be measured' }),
      tensionChanged: Type.Boolean({ description: 'it is taken up in another way than it was measured' }),
    }),
  ),
  nextMorningMs: InstantMs,
  currency: Type.String(),
});
export type HeadsView = Static<typeof HeadsView>;

/** How likely a channel stays open by its idle hours, from this shop's checks. */
export const ClogCurveView = Type.Object({
  /** Where too little was seen, what the learned rate says. */
  seen: Type.Boolean(),
  spells: Type.Integer(),
  clogged: Type.Integer(),
  points: Type.Array(
    Type.Object({
      hours: Type.Number(),
      open: Type.Number(),
      low: nullable(Type.Number()),
      high: nullable(Type.Number()),
    }),
  ),
});
export type ClogCurveView = Static<typeof ClogCurveView>;

export const FeedMeasured = Type.Object({
  stockId: Id,
  measuredMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5, description: 'between the two bars' }),
});
export type FeedMeasured = Static<typeof FeedMeasured>;

export const HeadCareBody = Type.Object({
  action: Type.Enum([...HEAD_ACTIONS]),
  channelIds: Type.Array(Id, { minItems: 1, maxItems: 24 }),
  check: Type.Boolean({ description: 'a check plot is printed behind it' }),
});
export type HeadCareBody = Static<typeof HeadCareBody>;
