import { Type, type Static } from 'typebox';
import { Id, InstantMs, nullable } from '../common.ts';

export const PACE_BY = ['hour', 'day', 'week', 'month', 'printer', 'stock', 'customer', 'queue', 'mode'] as const;
export type PaceBy = (typeof PACE_BY)[number];

/** What only counts where it is of this printer, stock… */
const filters = {
  printerId: Type.Optional(Id),
  stockId: Type.Optional(Id),
  queueId: Type.Optional(Id),
  modeId: Type.Optional(Id),
  customer: Type.Optional(Type.String({ maxLength: 200 })),
};

export const PaceQuery = Type.Object({
  fromMs: InstantMs,
  toMs: InstantMs,
  by: Type.Optional(
    Type.String({ maxLength: 40, description: `up to two of ${PACE_BY.join(', ')}, separated by commas` }),
  ),
  measures: Type.Optional(Type.String({ maxLength: 800, description: 'ids, separated by commas; left out: all' })),
  ...filters,
});
export type PaceQuery = Static<typeof PaceQuery>;

export const PaceRunsQuery = Type.Object({
  fromMs: InstantMs,
  toMs: InstantMs,
  ...filters,
  before: Type.Optional(Type.String({ maxLength: 80, description: 'where the last page ended' })),
});
export type PaceRunsQuery = Static<typeof PaceRunsQuery>;

const PaceValue = Type.Object({
  value: nullable(Type.Number({ description: 'null: nothing to divide by' })),
  numerator: Type.Number(),
  denominator: Type.Number(),
});
export type PaceValue = Static<typeof PaceValue>;

const PaceRow = Type.Object({
  keys: Type.Array(Type.Object({ by: Type.Enum(PACE_BY), id: Type.String(), name: Type.String() })),
  values: Type.Record(Type.String(), PaceValue),
});
export type PaceRow = Static<typeof PaceRow>;

export const PaceAnswer = Type.Object({
  currency: Type.String(),
  /** Sources whose figures are not in yet. */
  pending: Type.Integer(),
  measures: Type.Array(
    Type.Object({
      id: Type.String(),
      name: Type.String(),
      words: Type.String(),
      unit: Type.String(),
      moreIsBetter: nullable(Type.Boolean()),
    }),
  ),
  rows: Type.Array(PaceRow),
  total: Type.Record(Type.String(), PaceValue),
});
export type PaceAnswer = Static<typeof PaceAnswer>;

/** A run behind a figure, with what it brought within the period asked for. */
export const PaceRun = Type.Object({
  runId: Id,
  name: Type.String(),
  printerName: Type.String(),
  stockName: Type.String(),
  endedMs: InstantMs,
  outcome: Type.String(),
  runMs: Type.Number(),
  estimateMs: Type.Number(),
  goodM2: Type.Number(),
  fedM2: Type.Number(),
  inkMl: Type.Number(),
  costMinor: Type.Integer(),
  pieces: Type.Integer(),
});
export type PaceRun = Static<typeof PaceRun>;

export const PaceRuns = Type.Object({
  currency: Type.String(),
  runs: Type.Array(PaceRun),
  before: nullable(Type.String({ description: 'asks for the next page; null: this is the last' })),
});
export type PaceRuns = Static<typeof PaceRuns>;

/** What is no longer as it was, against its estimates. */
export const PaceChanges = Type.Object({
  falseAlarmDays: Type.Integer({ description: 'one false alarm in so many days is to be expected' }),
  values: Type.Integer({ description: 'as many values come in these days' }),
  changes: Type.Array(
    Type.Object({
      what: Type.Enum(['time', 'ink']),
      printerId: Id,
      printerName: Type.String(),
      of: Type.String({ description: 'mode and stock, or the channel' }),
      sinceMs: InstantMs,
      seenMs: InstantMs,
      share: Type.Number({ description: 'by which it has grown; below 0: shrunk' }),
      runs: Type.Integer(),
    }),
  ),
});
export type PaceChanges = Static<typeof PaceChanges>;

export const PaceInkQuery = Type.Object({ fromMs: InstantMs, toMs: InstantMs, printerId: Type.Optional(Id) });

/** Ink by channel and by what it was fired for (ml), as it was booked in a time. */
export const PaceInk = Type.Object({
  currency: Type.String(),
  rows: Type.Array(
    Type.Object({
      printerId: Id,
      printerName: Type.String(),
      channelId: Type.String(),
      channelName: Type.String(),
      colour: nullable(Type.String({ description: 'null: the channel is no longer there' })),
      workMl: Type.Number(),
      purgeMl: Type.Number(),
      cleanMl: Type.Number(),
      checkMl: Type.Number(),
      otherMl: Type.Number({
        description: 'exercise strips, changes of ink, and what an earlier version did not tell apart',
      }),
      allMl: Type.Number(),
      costMinor: Type.Integer({ description: 'at what the ink costs today' }),
    }),
  ),
});
export type PaceInk = Static<typeof PaceInk>;
