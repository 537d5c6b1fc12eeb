import { BACK_CONTENTS, MEDIA_TURNS, PIECE_TURNS } from '../../core/layout/twoSides.ts';
import { Type, type Static } from 'typebox';
import { RUN_STATES } from '../../core/flow/run.ts';
import { Id, InstantMs, Mm, nullable } from './common.ts';
import { TicketPartView } from './ticket.ts';

export const ModeView = Type.Object({
  id: Id,
  name: Type.String(),
  dpiX: Type.Number(),
  dpiY: Type.Number(),
  passes: Type.Integer({ minimum: 1 }),
  oneDirectional: Type.Boolean(),
  dropPl: Type.Number(),
  profile: Type.String(),
  profilePasses: Type.Integer({ minimum: 1 }),
});

export const ChannelView = Type.Object({
  id: Id,
  name: Type.String(),
  colour: Type.String({ pattern: '^#[0-9A-Fa-f]{6}$' }),
  heads: Type.Integer({ minimum: 1 }),
  tankMl: Type.Number(),
  pricePerMlMicro: Type.Integer(),
});

/** Everything that is fixed about a printer; data of the shop, shown to people. */
export const PrinterConfig = Type.Object({
  form: Type.String(),
  printableWidthMm: Mm,
  widestMediaMm: Mm,
  registeredEdge: Type.Enum(['left', 'centre', 'right']),
  mediaMarginMm: Type.Object({ leftMm: Mm, rightMm: Mm }),
  leadMm: Mm,
  trailMm: Mm,
  longestMm: Mm,
  freeHangMm: nullable(Mm),
  sources: Type.Array(Type.Object({ id: Id, name: Type.String() })),
  channels: Type.Array(ChannelView),
  modes: Type.Array(ModeView),
  ratePerHourMinor: Type.Integer(),
  edgeToEdge: Type.Boolean(),
  /** What tickets get from the printer. */
  defaults: TicketPartView,
  machine: Type.Object({
    nozzlesPerChannel: Type.Integer(),
    nozzlesPerInch: Type.Number(),
    carriageMmPerS: Type.Number(),
    carriageMmPerS2: Type.Number(),
    dwellS: Type.Number(),
    returnMmPerS: Type.Number(),
    feedMmPerS: Type.Number(),
    dryOutMmPerS: Type.Number(),
    bedWidthMm: Mm,
    startUpS: Type.Number(),
    fullCutS: Type.Number(),
    trailerMm: Mm,
  }),
});
export type PrinterConfig = Static<typeof PrinterConfig>;

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
  receivedMm: Mm,
  leftMm: Type.Number(),
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
  name: Type.String(),
  printerId: Id,
  queueId: Id,
  spoolId: nullable(Id),
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

export const PrinterState = Type.Enum(['off', 'idle', 'printing', 'caring', 'waiting', 'faulted']);

export const PrinterView = Type.Object({
  id: Id,
  name: Type.String(),
  state: PrinterState,
  reason: nullable(Type.String()),
  config: PrinterConfig,
  spools: Type.Array(SpoolView),
  inkLeftMl: Type.Record(Type.String(), Type.Number()),
});
export type PrinterView = Static<typeof PrinterView>;

export const LoadSpool = Type.Object({ printerId: Id, sourceId: Id });
