import { Type, type Static } from 'typebox';

/**
 * A cutter that stands by itself: it takes the contours of a run as a file, waits until somebody has laid the printed media
 * on it, then reads the marks and cuts. Like a printer it knows a cut by run id and attempt.
 *
 *   GET  /cutters                                             CutterAbout[]: the cutters there are
 *   GET  /cutters/:cutter/state                               CutterState
 *   PUT  /cutters/:cutter/cuts/:run/:attempt                  CutOrder → CutReport (accepts, or tells what became of it)
 *   GET  /cutters/:cutter/cuts/:run/:attempt                  CutReport, 404 if never seen
 *   POST /cutters/:cutter/cuts/:run/:attempt/start|pause|resume|cancel
 *   POST, DELETE /control/cutters/:cutter/faults              CutterFault; its cause is mended
 */
const Id = Type.String({ minLength: 1, maxLength: 64, pattern: '^[a-z0-9][a-z0-9-]*$' });
const Positive = Type.Number({ exclusiveMinimum: 0, maximum: 1e6 });

export const CutterAbout = Type.Object({
  id: Id,
  name: Type.String({ minLength: 1, maxLength: 80 }),
  /** What it can reach (mm). */
  widthMm: Positive,
  lengthMm: Positive,
  markReadS: Type.Number({ minimum: 0, maximum: 1e4 }),
  cutMmPerS: Positive,
  travelMmPerS: Positive,
  liftS: Type.Number({ minimum: 0, maximum: 100 }),
});
export type CutterAbout = Static<typeof CutterAbout>;

export const CutOrder = Type.Object({
  widthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5 }),
  lengthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e7 }),
  /** SVG in mm: closed outlines in the group `contour`. */
  svg: Type.Object({ url: Type.String(), sha256: Type.String(), bytes: Type.Integer({ minimum: 1, maximum: 64e6 }) }),
});
export type CutOrder = Static<typeof CutOrder>;

export const CutterFault = Type.Object({ kind: Type.Enum(['jam', 'cover open', 'marks not found']) });
export type CutterFault = Static<typeof CutterFault>;

export const CutReport = Type.Object({
  runId: Type.String(),
  attempt: Type.Integer(),
  status: Type.Enum(['waiting', 'cutting', 'paused', 'cut', 'failed', 'cancelled']),
  /** Outlines that are cut, of how many. */
  cut: Type.Integer(),
  of: Type.Integer(),
  msLeft: Type.Number(),
  reason: Type.Union([Type.String(), Type.Null()]),
  startedMs: Type.Union([Type.Number(), Type.Null()]),
  endedMs: Type.Union([Type.Number(), Type.Null()]),
});
export type CutReport = Static<typeof CutReport>;

export const CutterState = Type.Object({
  cutterId: Type.String(),
  seq: Type.Integer(),
  atMs: Type.Number(),
  status: Type.Enum(['idle', 'waiting', 'cutting', 'faulted']),
  reason: Type.Union([Type.String(), Type.Null()]),
  cut: Type.Union([CutReport, Type.Null()]),
});
export type CutterState = Static<typeof CutterState>;
