import { BACK_CONTENTS, MEDIA_TURNS, PIECE_TURNS } from '../../core/layout/arrange/twoSides.ts';
import { Type, type Static } from 'typebox';
import { PLAIN_CARE } from '../../core/care/careData.ts';
import { RENDERING_WAYS } from '../../core/raster/whilePrinting.ts';
import { RUN_STATES } from '../../core/flow/run.ts';
import { PlannedCareView, PlannedRuleView } from './care.ts';
import { Id, InstantMs, Mm, nullable } from './common.ts';
import { MACHINE_ABOUT, MachineChannel } from '../machine/about.ts';
import { TicketPartView } from './ticket.ts';

export const ChannelView = Type.Object({
  ...MachineChannel.properties,
  pricePerMlMicro: Type.Integer({ minimum: 0, maximum: 1e10 }),
});

const Minutes = Type.Number({ minimum: 0, maximum: 600 });
const MlPerHead = Type.Number({ minimum: 0, maximum: 1000 });

/** What a printer's care takes: minutes, and ink of each head that it is done to (ml). */
export const CareFiguresView = Type.Object({
  exerciseDrops: Type.Number({
    exclusiveMinimum: 0,
    maximum: 1e7,
    description: 'drops a nozzle that exercise a channel',
  }),
  check: Type.Object({ minutes: Minutes, mlPerHead: MlPerHead }),
  light: Type.Object({ minutes: Minutes, mlPerHead: MlPerHead }),
  deep: Type.Object({ minutes: Minutes, mlPerHead: MlPerHead }),
  stirMinutes: Minutes,
  channelShare: Type.Number({
    minimum: 0,
    maximum: 1,
    default: PLAIN_CARE.channelShare,
    description: 'of a channel’s nozzles so many must print',
  }),
  restMinutes: Type.Number({
    minimum: 0,
    maximum: 10_080,
    default: PLAIN_CARE.restMinutes,
    description: 'heads rest so long before a clean is repeated',
  }),
  serviceMinor: Type.Integer({
    minimum: 0,
    maximum: 1e8,
    default: PLAIN_CARE.serviceMinor,
    description: 'what it costs to call service',
  }),
});

/** Everything that is fixed about a printer: what the device is, and what the shop says of it. Shown to people. */
export const PrinterConfig = Type.Object({
  ...MACHINE_ABOUT,
  channels: Type.Array(ChannelView, { minItems: 1, maxItems: 24 }),
  ratePerHourMinor: Type.Integer({ minimum: 0, maximum: 1e7 }),
  changeOver: Type.Object({
    stockMin: Type.Number({ minimum: 0, maximum: 600, description: 'to change to another stock' }),
    modeMin: Type.Number({ minimum: 0, maximum: 600, description: 'to change to another mode' }),
  }),
  unattended: Type.Boolean({ description: 'may print with nobody there' }),
  rendering: Type.Optional(
    Type.Enum(RENDERING_WAYS, {
      description: 'who renders what it prints, and when; left out: the printer itself, from the PDF',
    }),
  ),
  pool: nullable(Type.String({ minLength: 1, maxLength: 80, description: 'like printers that feed from one queue' })),
  care: CareFiguresView,
  /** What tickets get from the printer. */
  defaults: TicketPartView,
});
export type PrinterConfig = Static<typeof PrinterConfig>;

export const TakeUpView = Type.Object({
  winding: Type.Enum(['printed side in', 'printed side out']),
  tension: Type.Enum(['light', 'medium', 'firm']),
});

export const SpoolView = Type.Object({
  id: Id,
  label: Type.String(),
  lot: Type.String(),
  stockId: Id,
  stockName: Type.String(),
  colour: Type.String(),
  widthMm: Mm,
  thicknessMm: Type.Number(),
  coreMm: Mm,
  /** Fed when it is loaded; 0 for what is not on a roll. */
  leaderMm: Mm,
  receivedMm: Mm,
  leftMm: Type.Number({ description: 'on it now' }),
  takenMm: Type.Number({ description: 'what the run on the printer will still take of that' }),
  kind: Type.Enum(['roll', 'pack', 'offcut']),
  /** Length of one sheet of a pack, by which it is counted; null: a roll. */
  sheetMm: nullable(Mm),
  place: Type.String(),
  takeUp: nullable(TakeUpView),
  printerId: nullable(Id),
  sourceId: nullable(Id),
});
export type SpoolView = Static<typeof SpoolView>;

export const RunProgress = Type.Object({
  phase: Type.String(),
  lengthMm: Mm,
  fedMm: Mm,
  msLeft: Type.Number(),
  atMs: InstantMs,
});

export const RunState = Type.Enum([...RUN_STATES]);

export const RunItem = Type.Object({
  id: Id,
  number: Type.Integer({ description: 'as it stands in its name' }),
  name: Type.String(),
  printerId: Id,
  queueId: Id,
  spoolId: nullable(Id),
  /** The spool that a person has chosen for it while it is queued. */
  meantSpoolId: nullable(Id),
  state: RunState,
  position: Type.Integer(),
  attempt: Type.Integer(),
  lengthMm: Mm,
  mediaWidthMm: Mm,
  pieceCount: Type.Integer(),
  jobCount: Type.Integer(),
  estimateMs: Type.Number(),
  dueMs: nullable(InstantMs),
  startedMs: nullable(InstantMs),
  endedMs: nullable(InstantMs),
  reason: nullable(Type.String()),
  reachedMm: nullable(Mm),
  progress: nullable(RunProgress),
  stockId: Id,
  modeId: Id,
  /** What it takes from its spool, trailer included; 0 for a back. */
  needMm: Type.Number(),
  /** Where a job of it asks for one lot: its order, and the lot on which that was begun. */
  oneLot: nullable(Type.Object({ order: Type.String(), lot: nullable(Type.String()) })),
  /** A person loads each piece. */
  byHand: Type.Boolean(),
  unattended: Type.Boolean(),
  fixedStartMs: nullable(InstantMs),
  /** A person has marked it: rules may ask for care before it. */
  important: Type.Boolean(),
  /** The dates of its jobs, each with what an hour beyond it costs (minor units). */
  dues: Type.Array(Type.Object({ dueMs: InstantMs, latePerHMinor: Type.Integer() })),
  /** Its first jobs by name, and for whom they are. */
  jobNames: Type.Array(Type.String()),
  customers: Type.Array(Type.String()),
  inkMl: Type.Record(Type.String(), Type.Number()),
  /** Its ink was counted dot by dot, or sampled from the same pixels; else it is an estimate by small pictures of its pages. */
  inkCounted: Type.Boolean(),
  /** It was sampled, and not counted. */
  inkSampled: Type.Boolean(),
  /** On a page-wide array: what of it every column across the media gets. Null: all of it counts. */
  evenMl: nullable(Type.Record(Type.String(), Type.Number())),
  /** A segment of several that were cut from one run. */
  series: nullable(Type.Object({ id: Id, no: Type.Integer(), of: Type.Integer() })),
  /** One of two runs on the two sides of the same media. */
  pair: nullable(
    Type.Object({
      id: Id,
      side: Type.Enum(['front', 'back']),
      otherRunId: nullable(Id),
      turn: Type.Enum([...MEDIA_TURNS]),
      content: Type.Enum([...BACK_CONTENTS]),
      pieceTurn: Type.Enum([...PIECE_TURNS]),
      offsetXMm: Type.Number(),
      offsetYMm: Type.Number(),
      /** Of a back: its front is printed. */
      frontPrinted: Type.Boolean(),
      confirmed: Type.Boolean(),
    }),
  ),
});
export type RunItem = Static<typeof RunItem>;

/** What a printer does at the moment; why is said beside it. */
export const PrinterState = Type.Enum(['off', 'idle', 'printing', 'caring', 'waiting', 'faulted']);

/** A ratio of actual ÷ estimate: mean of its logarithm, what that is worth in runs, shape and scale of its spread. */
const LearnedView = Type.Object({
  m: Type.Number(),
  kappa: Type.Number(),
  alpha: Type.Number(),
  beta: Type.Number(),
  runs: Type.Integer(),
});

/** How a printer's runs really go against their estimates. */
const LearnedPrinterView = Type.Object({
  time: LearnedView,
  modes: Type.Record(
    Type.String(),
    Type.Object({
      time: LearnedView,
      stocks: Type.Record(Type.String(), LearnedView),
      ink: Type.Record(Type.String(), Type.Number(), { description: 'fired ÷ estimated, by channel' }),
      countedInk: Type.Record(Type.String(), Type.Number(), {
        description: 'fired ÷ counted in renderings, by channel',
      }),
    }),
  ),
});

/** A printer as the pages know it: its description, what is loaded, and what it does. */
export const PrinterView = Type.Object({
  id: Id,
  name: Type.String(),
  state: PrinterState,
  reason: nullable(Type.String()),
  config: PrinterConfig,
  spools: Type.Array(SpoolView),
  inkLeftMl: Type.Record(Type.String(), Type.Number()),
  /** Whether the ink left is what the device measures. */
  inkMeasured: Type.Boolean(),
  /** When each channel was last exercised, by what it fired, else as the device says; left out: nobody knows. */
  firedMs: Type.Record(Type.String(), InstantMs),
  /** What the device measures in its sources. */
  measured: Type.Array(Type.Object({ sourceId: Id, tag: Type.String(), widthMm: Mm })),
  /** In its basket or stacker; null: it does not say. */
  collectedMm: nullable(Type.Number()),
  /** What holds the first run of its line back. */
  held: nullable(
    Type.Object({
      runId: Id,
      code: Type.String(),
      text: Type.String(),
      way: Type.String(),
      brief: Type.String({ description: 'what it waits for, in a few words' }),
      hand: Type.Boolean({ description: 'a person has to do something; else time alone will do' }),
    }),
  ),
  /** Care in its line, and what its timers bring within eight days. */
  care: Type.Array(PlannedCareView),
  /** Care that rules put before its runs. */
  careRules: Type.Array(PlannedRuleView),
  /** By mode and channel: why that channel can't print in that mode; what is left out can. */
  unfit: Type.Record(Type.String(), Type.Record(Type.String(), Type.String())),
  /** A check plot that was printed and that nobody has read; null: none. */
  checkToRead: nullable(Id),
  lastModeId: nullable(Id),
  learned: LearnedPrinterView,
});
export type PrinterView = Static<typeof PrinterView>;

export const LoadSpool = Type.Object({
  printerId: Id,
  sourceId: Id,
  /** As measured; left out: as its stock. */
  widthMm: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 1e5 })),
  /** What is left on it, where a person measured it anew; corrects the ledger. */
  lengthMm: Type.Optional(Type.Number({ minimum: 0, maximum: 1e8 })),
  takeUp: Type.Optional(nullable(TakeUpView)),
});
export type LoadSpool = Static<typeof LoadSpool>;
