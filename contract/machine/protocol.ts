import { Type, type Static } from 'typebox';

/**
 * What server and printer say to each other, JSON over HTTP on loopback. A run is known by run id and attempt: sending
 * it again is answered with what became of it, so that a lost answer never prints twice.
 *
 *   GET  /machines/:machine                                   describe
 *   GET  /machines/:machine/state                             MachineState
 *   GET  /machines/:machine/events                            MachineState on every change (server-sent events)
 *   PUT  /machines/:machine/runs/:run/:attempt                MachineRun → RunReport (accepts, or tells what became of it)
 *   GET  /machines/:machine/runs/:run/:attempt                RunReport, 404 if never seen
 *   POST /machines/:machine/runs/:run/:attempt/pause|resume|cancel
 *
 * Control surface, the hands and accidents of the world:
 *   GET    /control                                           who this is
 *   PUT    /control/clock                                     ClockOrder
 *   POST   /control/machines/:machine/faults                  FaultOrder
 *   DELETE /control/machines/:machine/faults                  the cause is mended
 *   POST   /control/shutdown
 */
export const MachineRun = Type.Object({
  lengthMm: Type.Number({ minimum: 0 }),
  trailerMm: Type.Number({ minimum: 0 }),
  advanceMm: Type.Number({ exclusiveMinimum: 0 }),
  passes: Type.Integer({ minimum: 1 }),
  startUpMs: Type.Number({ minimum: 0 }),
  strokesMs: Type.Array(Type.Number({ minimum: 0 }), { maxItems: 1_000_000 }),
  dryOutMs: Type.Number({ minimum: 0 }),
  cutMs: Type.Number({ minimum: 0 }),
  inkMl: Type.Record(Type.String(), Type.Number()),
  pdf: Type.Object({ url: Type.String(), sha256: Type.String(), bytes: Type.Integer() }),
});
export type MachineRun = Static<typeof MachineRun>;

export const FaultKind = Type.Enum(['media out', 'cover open', 'head strike', 'link lost']);
export type FaultKind = Static<typeof FaultKind>;

export const FaultOrder = Type.Object({
  kind: FaultKind,
  /** Strike when this much of the run is fed; at once without it. */
  atMm: Type.Optional(Type.Number({ minimum: 0 })),
  /** Only link lost: how long the line stays dead (real time). */
  forMs: Type.Optional(Type.Integer({ minimum: 0, maximum: 600_000 })),
});
export type FaultOrder = Static<typeof FaultOrder>;

/** The shop's clock: stand-ins live in it, the server says what it shows. */
export const ClockOrder = Type.Object({ rate: Type.Number({ minimum: 0 }), shopMs: Type.Number() });

export const RunReport = Type.Object({
  runId: Type.String(),
  attempt: Type.Integer(),
  status: Type.Enum(['printing', 'paused', 'printed', 'failed', 'cancelled']),
  phase: Type.Enum(['start-up', 'print', 'dry-out', 'cut', 'done']),
  lengthMm: Type.Number(),
  fedMm: Type.Number(),
  msLeft: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number()),
  reason: Type.Union([Type.String(), Type.Null()]),
  startedMs: Type.Number(),
  endedMs: Type.Union([Type.Number(), Type.Null()]),
});
export type RunReport = Static<typeof RunReport>;

export const MachineState = Type.Object({
  machineId: Type.String(),
  seq: Type.Integer(),
  atMs: Type.Number(),
  status: Type.Enum(['idle', 'printing', 'waiting', 'faulted']),
  reason: Type.Union([Type.String(), Type.Null()]),
  run: Type.Union([RunReport, Type.Null()]),
});
export type MachineState = Static<typeof MachineState>;
