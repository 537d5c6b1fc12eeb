import { Type, type Static } from 'typebox';
import { CARE_STATES } from '../../core/flow/care.ts';
import { Id, InstantMs, Mm, nullable } from './common.ts';

const Share = Type.Number({ minimum: 0, maximum: 1 });
const Wall = Type.String({
  pattern: '^\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}$',
  description: 'local time of the shop’s zone, to the minute',
});

export const PurgeSheetView = Type.Object({
  form: Type.Enum(['sheet', 'roll']),
  widthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5 }),
  lengthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5 }),
  density: Share,
  levels: Type.Record(Type.String(), Share, { description: 'by channel; one that is left out is not fired' }),
});

export const PurgeDesignBody = Type.Object({
  printerId: Id,
  name: Type.String({ minLength: 1, maxLength: 80 }),
  sheet: PurgeSheetView,
  modeId: Id,
  stockId: Id,
  onlyNeeded: Type.Boolean({ description: 'fires only the channels that work has not exercised' }),
});
export type PurgeDesignBody = Static<typeof PurgeDesignBody>;

/** What a purge takes. */
export const PurgeFiguresView = Type.Object({
  widthMm: Mm,
  lengthMm: Mm,
  /** The media that it lies on, margins and all. */
  mediaWidthMm: Mm,
  mediaLengthMm: Mm,
  inkMl: Type.Record(Type.String(), Type.Number()),
  fedMm: Mm,
  sheets: Type.Integer(),
  durationMs: Type.Number(),
  costMinor: Type.Integer({ description: 'ink and media' }),
  currency: Type.String(),
  /** A week of it, and of what could be done instead. */
  week: Type.Array(
    Type.Object({
      text: Type.String(),
      inkMl: Type.Number(),
      costMinor: Type.Integer({ description: 'ink and media' }),
      clogs: Type.Number({
        description: 'nozzles to be expected to clog, of the channels that it fires, without any work',
      }),
    }),
  ),
});
export type PurgeFiguresView = Static<typeof PurgeFiguresView>;

export const PurgeDesignView = Type.Object({ id: Id, ...PurgeDesignBody.properties, figures: PurgeFiguresView });
export type PurgeDesignView = Static<typeof PurgeDesignView>;

/** A design as it would be on another printer. */
export const DesignCopyView = Type.Object({
  body: PurgeDesignBody,
  differences: Type.Array(Type.String()),
  ownId: nullable(Type.String({ description: 'a design of that name that the printer has already; null: none' })),
});
export type DesignCopyView = Static<typeof DesignCopyView>;

export const CareWhatView = Type.Union([
  Type.Object({ kind: Type.Literal('purge'), designId: Id }),
  Type.Object({ kind: Type.Literal('check') }),
  Type.Object({
    kind: Type.Literal('clean'),
    strength: Type.Enum(['light', 'deep']),
    channelIds: Type.Array(Id, { minItems: 1, maxItems: 24 }),
    rested: Type.Optional(Type.Boolean({ description: 'it repeats a clean after the heads have rested' })),
  }),
  Type.Object({ kind: Type.Literal('stir') }),
  Type.Object({ kind: Type.Literal('feed'), stockId: Id }),
  Type.Object({ kind: Type.Literal('release'), runId: Id }),
]);
export type CareWhatView = Static<typeof CareWhatView>;

const TIMER = {
  what: CareWhatView,
  rrule: nullable(Type.String({ maxLength: 200, description: 'RFC 5545; null: once' })),
  startLocal: Wall,
  untilLocal: nullable(Wall),
  skipHolidays: Type.Boolean(),
  missed: Type.Enum(['catch-up', 'report']),
  slackMin: Type.Integer({ minimum: 0, maximum: 10_080 }),
  paused: Type.Boolean(),
};

export const TimerBody = Type.Object({
  printerIds: Type.Array(Id, { minItems: 1, maxItems: 50 }),
  ...TIMER,
  copyDesigns: Type.Optional(
    Type.Boolean({ description: 'a purge of another printer is copied to each that has none of its name' }),
  ),
});
export type TimerBody = Static<typeof TimerBody>;
export const TimerChange = Type.Partial(Type.Object(TIMER));
export type TimerChange = Static<typeof TimerChange>;

export const TimerView = Type.Object({
  id: Id,
  groupId: Id,
  printerId: Id,
  ...TIMER,
  text: Type.String({ description: 'when, as a person says it' }),
  title: Type.String({ description: 'what it does' }),
  nextMs: nullable(InstantMs),
  version: Type.Integer({ description: 'who changes it sends it as If-Match' }),
});
export type TimerView = Static<typeof TimerView>;

export const Occurrences = Type.Array(
  Type.Object({
    atMs: InstantMs,
    atLocal: Wall,
    holiday: Type.Boolean({ description: 'skipped: the shop is closed' }),
  }),
);

/** Timers that would keep nozzles from clogging over a week. */
export const TimerProposals = Type.Array(
  Type.Object({
    printerId: Id,
    designId: Id,
    title: Type.String(),
    rrule: Type.String(),
    startLocal: Wall,
    text: Type.String(),
    times: Type.Integer(),
    inkMl: Type.Number(),
    costMinor: Type.Integer(),
    currency: Type.String(),
    clogs: Type.Number({ description: 'expected with it, beside planned work and the timers that are there' }),
    clogsBefore: Type.Number({ description: 'expected without it' }),
  }),
);
export type TimerProposals = Static<typeof TimerProposals>;

export const CareState = Type.Enum([...CARE_STATES]);

/** Care in a printer's line, or what became of it. */
export const CareItemView = Type.Object({
  id: Id,
  printerId: Id,
  what: CareWhatView,
  title: Type.String(),
  state: CareState,
  timerId: nullable(Id),
  runId: nullable(
    Type.String({ description: 'the run that it comes before, by a rule or since that would keep it too long' }),
  ),
  dueMs: InstantMs,
  earlyMs: nullable(Type.Integer({ description: 'let go first then, before it was due' })),
  latestMs: InstantMs,
  late: Type.Boolean(),
  estimateMs: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number()),
  savedMl: Type.Number({ description: 'not fired because work had exercised its channels' }),
  fedMm: Type.Number(),
  reason: nullable(Type.String()),
  startedMs: nullable(InstantMs),
  endedMs: nullable(InstantMs),
});
export type CareItemView = Static<typeof CareItemView>;

/** What care takes of its printer. */
const TAKES = {
  title: Type.String(),
  durationMs: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number()),
  fedMm: Type.Number({ description: '0: it takes no media' }),
  stockId: nullable(Type.String({ description: 'what it is printed on; null: whatever is loaded' })),
};

/** Care as the plan of a printer's line takes it. */
export const PlannedCareView = Type.Object({
  id: Type.String({ description: 'of care in the line; else timer and instant' }),
  ...TAKES,
  what: CareWhatView,
  fromMs: InstantMs,
  latestMs: Type.Number({ description: 'begun after this it is late' }),
  timerId: nullable(Type.String({ description: 'that will bring it; null: it is in the line already' })),
  skippable: Type.Boolean({ description: 'a purge of a timer: left out where work makes it needless' }),
  skipped: Type.Boolean({ description: 'by the plan, work will have exercised its channels by then' }),
});
export type PlannedCareView = Static<typeof PlannedCareView>;

const RULE = {
  what: Type.Union([
    Type.Object({ kind: Type.Literal('check') }),
    Type.Object({ kind: Type.Literal('stir') }),
    Type.Object({ kind: Type.Literal('clean'), strength: Type.Enum(['light', 'deep']) }),
  ]),
  overMm: nullable(
    Type.Number({
      exclusiveMinimum: 0,
      maximum: 1e8,
      description: 'only before runs that are longer; null: however long',
    }),
  ),
  onlyImportant: Type.Boolean({ description: 'only before runs that a person has marked as important' }),
};

/** Care that comes before each run of a printer that a rule names, as the plan takes it. */
export const PlannedRuleView = Type.Object({
  id: Id,
  ...RULE,
  ...TAKES,
  doneFor: Type.Array(Id, { description: 'queued runs before which it is in the line already, or done' }),
});
export type PlannedRuleView = Static<typeof PlannedRuleView>;

export const CareRuleBody = Type.Object({
  ...RULE,
  printerIds: nullable(Type.Array(Id, { minItems: 1, maxItems: 50 })),
  paused: Type.Boolean(),
});
export type CareRuleBody = Static<typeof CareRuleBody>;
export const CareRuleChange = Type.Partial(CareRuleBody);
export type CareRuleChange = Static<typeof CareRuleChange>;

export const CareRuleView = Type.Object({
  id: Id,
  ...CareRuleBody.properties,
  text: Type.String({ description: 'what and before which runs, as a person says it' }),
  version: Type.Integer({ description: 'who changes it sends it as If-Match' }),
});
export type CareRuleView = Static<typeof CareRuleView>;

export const StartCare = Type.Object({ printerId: Id, what: CareWhatView });

/** One line of the Rota: what is planned, and what becomes of it as far as can be said now. */
export const RotaItem = Type.Object({
  id: Type.String(),
  kind: Type.Enum(['run', 'purge', 'check', 'clean', 'stir', 'feed', 'release']),
  title: Type.String(),
  timerId: nullable(Id),
  fromMs: InstantMs,
  toMs: InstantMs,
  dueMs: nullable(InstantMs),
  /** By moving it, its timer or the fixed start of its run is set anew. */
  movable: Type.Boolean(),
  outcome: Type.Enum([
    'planned',
    'done',
    'skipped',
    'late',
    'conflict',
    'failed',
    'impossible',
    'cancelled',
    'holiday',
  ]),
  why: Type.String(),
  /** What a person can do about a conflict. */
  way: Type.String(),
});
export type RotaItem = Static<typeof RotaItem>;

export const RotaView = Type.Object({
  fromMs: InstantMs,
  toMs: InstantMs,
  nowMs: InstantMs,
  attended: Type.Array(Type.Object({ fromMs: InstantMs, toMs: InstantMs })),
  printers: Type.Array(Type.Object({ printerId: Id, name: Type.String(), items: Type.Array(RotaItem) })),
  saved: Type.Array(
    Type.Object({
      month: Type.String({ description: 'of the shop’s zone, as 2026-10' }),
      inkMl: Type.Number({ description: 'not fired because work had exercised the channels' }),
      minor: Type.Integer(),
      currency: Type.String(),
      purges: Type.Integer({ description: 'that were skipped whole' }),
    }),
    { description: 'this month and the one before' },
  ),
});
export type RotaView = Static<typeof RotaView>;
