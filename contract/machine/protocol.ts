import { Type, type Static } from 'typebox';

/**
 * What server and printer say to each other, JSON over HTTP on loopback. A run is known by run id and attempt: sending
 * it again is answered with what became of it, so that a lost answer never prints twice.
 *
 *   GET  /machines                                            MachineName[]: the devices there are
 *   GET  /machines/:machine                                   MachineAbout: what it can do
 *   GET  /machines/:machine/state                             MachineState
 *   GET  /machines/:machine/events                            MachineState on every change (server-sent events)
 *   PUT  /machines/:machine/sources/:source                   MediaLoad → MachineState
 *   DELETE /machines/:machine/sources/:source                 MachineState
 *   POST /machines/:machine/emptied                           a person has emptied basket or stacker → MachineState
 *   PUT  /machines/:machine/runs/:run/:attempt                MachineRun → RunReport (accepts, or tells what became of it)
 *   GET  /machines/:machine/runs/:run/:attempt                RunReport, 404 if never seen
 *   POST /machines/:machine/runs/:run/:attempt/pause|resume|cancel
 *   PUT  /machines/:machine/care/:care/:attempt               CareOrder → CareReport (accepts, or tells what became of it)
 *   GET  /machines/:machine/care/:care/:attempt               CareReport, 404 if never seen
 *   POST /machines/:machine/care/:care/:attempt/cancel
 *
 * Control surface, the hands and accidents of the world:
 *   GET    /control                                           who this is
 *   PUT    /control/clock                                     ClockOrder
 *   PUT    /control/machines/:machine/ink                     InkFill
 *   POST   /control/machines/:machine/faults                  FaultOrder
 *   DELETE /control/machines/:machine/faults                  the cause is mended
 *   POST   /control/machines/:machine/clean                   a person has cleaned its heads thoroughly
 *   PUT    /control/machines/:machine/rate                    FaultRate
 *   PUT    /control/machines/:machine/power                   PowerOrder: off as in a power cut, and on again
 *   GET    /                                                  a page that shows and controls all this
 *   POST   /control/shutdown
 */
export const MachineRun = Type.Object({
  lengthMm: Type.Number({ minimum: 0 }),
  trailerMm: Type.Number({ minimum: 0 }),
  advanceMm: Type.Number({ exclusiveMinimum: 0 }),
  passes: Type.Integer({ minimum: 1 }),
  startUpMs: Type.Number({ minimum: 0 }),
  strokesMs: Type.Array(Type.Number({ minimum: 0 }), { maxItems: 1_000_000 }),
  /** What is printed without anything being loaded anew; by hand: the machine stops after each for a person. */
  block: Type.Object({
    lengthMm: Type.Number({ minimum: 0 }),
    strokes: Type.Integer({ minimum: 0 }),
    coats: Type.Integer({ minimum: 1 }),
    byHand: Type.Boolean(),
  }),
  dryOutMs: Type.Number({ minimum: 0 }),
  dryingMs: Type.Optional(
    Type.Number({ minimum: 0, description: 'it rests before it is cut off; left out: not at all' }),
  ),
  heaterC: Type.Optional(Type.Union([Type.Number(), Type.Null()], { description: 'null or left out: as it stands' })),
  cutMs: Type.Number({ minimum: 0 }),
  feedFactor: Type.Optional(
    Type.Number({ exclusiveMinimum: 0, description: 'by which the advance is divided already; left out: by nothing' }),
  ),
  /** Planned; of channels that are among the dots, these decide. */
  inkMl: Type.Record(Type.String(), Type.Number()),
  /** Where the media comes from; null: what is in the printer already (a back). */
  sourceId: Type.Union([Type.String(), Type.Null()]),
  pdf: Type.Object({ url: Type.String(), sha256: Type.String(), bytes: Type.Integer() }),
  /** What is fired, dot by dot, in place of the PDF: parts that follow each other, each a channel file. One that is not there yet is asked for again. */
  dots: Type.Optional(
    Type.Object({
      parts: Type.Array(Type.Object({ url: Type.String(), rows: Type.Integer({ minimum: 1 }) }), {
        minItems: 1,
        maxItems: 100_000,
      }),
      dropsPl: Type.Array(Type.Number({ exclusiveMinimum: 0 }), { minItems: 3, maxItems: 3 }),
    }),
  ),
});
export type MachineRun = Static<typeof MachineRun>;

/** A person has put media into a source. */
export const MediaLoad = Type.Object({
  tag: Type.String({ maxLength: 64, description: 'by which the shop knows it' }),
  widthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5 }),
  lengthMm: Type.Number({ minimum: 0, maximum: 1e8 }),
});
export type MediaLoad = Static<typeof MediaLoad>;

export const InkFill = Type.Object({ inkMl: Type.Record(Type.String(), Type.Number({ minimum: 0 })) });
export type InkFill = Static<typeof InkFill>;

export const FAULT_KINDS = [
  'media out',
  'jam',
  'cover open',
  'head strike',
  'ink low',
  'ink out',
  'link lost',
  'slow device',
] as const;
export const FaultKind = Type.Enum([...FAULT_KINDS]);
export type FaultKind = (typeof FAULT_KINDS)[number];

export const FaultOrder = Type.Object({
  kind: FaultKind,
  /** Strike when this much of the run is fed; at once without it. */
  atMm: Type.Optional(Type.Number({ minimum: 0 })),
  /** Only link lost: how long the line stays dead (real time). */
  forMs: Type.Optional(Type.Integer({ minimum: 0, maximum: 600_000 })),
});
export type FaultOrder = Static<typeof FaultOrder>;

/** Faults by chance: so many in 100 hours of printing. */
export const FaultRate = Type.Object({ per100h: Type.Number({ minimum: 0, maximum: 1e4 }) });

export const PowerOrder = Type.Object({ on: Type.Boolean() });

/** The shop's clock: stand-ins live in it, the server says what it shows. */
export const ClockOrder = Type.Object({
  rate: Type.Number({ minimum: 0 }),
  shopMs: Type.Number(),
  /** Where it stands still again. */
  untilMs: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
});

export const MachineName = Type.Object({ id: Type.String(), name: Type.String(), form: Type.String() });
export type MachineName = Static<typeof MachineName>;

export const RunReport = Type.Object({
  runId: Type.String(),
  attempt: Type.Integer(),
  /** Grows with everything that happens on the device: of two reports the one with the greater number is the later. */
  seq: Type.Integer(),
  status: Type.Enum(['printing', 'paused', 'printed', 'failed', 'cancelled']),
  phase: Type.Enum(['start-up', 'print', 'stop', 'dry-out', 'drying', 'cut', 'done']),
  lengthMm: Type.Number(),
  fedMm: Type.Number(),
  msLeft: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number()),
  reason: Type.Union([Type.String(), Type.Null()]),
  startedMs: Type.Number(),
  endedMs: Type.Union([Type.Number(), Type.Null()]),
});
export type RunReport = Static<typeof RunReport>;

export const CARE_KINDS = ['purge', 'check', 'clean', 'stir', 'feed'] as const;
export const CLEAN_STRENGTHS = ['light', 'deep'] as const;

/** A file of what is fired, dot by dot; `docs/printers.md` says how it is made. */
export const RasterFile = Type.Object({ url: Type.String(), sha256: Type.String(), bytes: Type.Integer() });

/** Work that keeps heads healthy. It is known by its id and attempt, as a run is: sent twice it is done once. */
export const CareOrder = Type.Object({
  kind: Type.Enum([...CARE_KINDS]),
  durationMs: Type.Number({ minimum: 0, maximum: 1e8 }),
  inkMl: Type.Record(Type.String(), Type.Number({ minimum: 0 })),
  fedMm: Type.Number({ minimum: 0 }),
  /** Where the media comes from; null: it takes none. */
  sourceId: Type.Union([Type.String(), Type.Null()]),
  /** Of a clean: which channels, and how hard. */
  clean: Type.Union([
    Type.Object({ channelIds: Type.Array(Type.String()), strength: Type.Enum([...CLEAN_STRENGTHS]) }),
    Type.Null(),
  ]),
  /** Of a purge: channel files, and the volume of a full drop. What they fire goes before `inkMl`. */
  rasters: Type.Optional(Type.Array(RasterFile, { maxItems: 16 })),
  dropPl: Type.Optional(Type.Number({ exclusiveMinimum: 0 })),
  /** Of a feed check: two bars so far apart, by an advance that nothing corrects. */
  feedMm: Type.Optional(Type.Number({ exclusiveMinimum: 0 })),
  /** Of a check: the channels that it draws; left out: all. */
  checks: Type.Optional(Type.Array(Type.String(), { maxItems: 24 })),
});
export type CareOrder = Static<typeof CareOrder>;

const Nozzles = Type.Array(Type.Integer({ minimum: 0 }), { maxItems: 100_000 });

/** Nozzles of one channel that do not print as they should, numbered from 0 over all its heads. */
export const ReadNozzles = Type.Object({ missing: Nozzles, weak: Nozzles, crooked: Nozzles });

export const CareReport = Type.Object({
  careId: Type.String(),
  attempt: Type.Integer(),
  seq: Type.Integer(),
  status: Type.Enum(['caring', 'done', 'failed', 'cancelled']),
  msLeft: Type.Number(),
  fedMm: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number()),
  reason: Type.Union([Type.String(), Type.Null()]),
  startedMs: Type.Number(),
  endedMs: Type.Union([Type.Number(), Type.Null()]),
  measuredMm: Type.Optional(
    Type.Number({ description: 'of a feed check that is done, where the device measures it itself' }),
  ),
  nozzles: Type.Optional(
    Type.Record(Type.String(), ReadNozzles, {
      description: 'of a check that is done, by channel, where the device reads its plots itself',
    }),
  ),
});
export type CareReport = Static<typeof CareReport>;

/** What a device measures in a source. */
export const MachineMedia = Type.Object({ sourceId: Type.String(), tag: Type.String(), widthMm: Type.Number() });
export type MachineMedia = Static<typeof MachineMedia>;

export const MachineState = Type.Object({
  machineId: Type.String(),
  seq: Type.Integer(),
  atMs: Type.Number(),
  status: Type.Enum(['idle', 'printing', 'caring', 'waiting', 'faulted']),
  reason: Type.Union([Type.String(), Type.Null()]),
  /** Left out by a device that does not measure it. */
  media: Type.Optional(Type.Array(MachineMedia)),
  inkMl: Type.Optional(Type.Record(Type.String(), Type.Number())),
  collectedMm: Type.Optional(Type.Number({ description: 'in basket or stacker' })),
  firedMs: Type.Optional(
    Type.Record(Type.String(), Type.Number(), {
      description: 'when each channel was last exercised, as the device counts it; UTC, shop time',
    }),
  ),
  run: Type.Union([RunReport, Type.Null()]),
  /** Care that it does or did last; left out by a device that knows none. */
  care: Type.Optional(Type.Union([CareReport, Type.Null()])),
});
export type MachineState = Static<typeof MachineState>;
