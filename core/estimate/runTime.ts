import type { RectMm } from '../geometry/frame.ts';
import type { CarriageConstants, CarriageSpan, CutOff, PrintMode } from '../machine/constants.ts';

export interface TimedRun {
  readonly lengthMm: number;
  readonly mediaWidthMm: number;
  readonly mode: PrintMode;
  readonly span: CarriageSpan;
  readonly dryOut: boolean;
  readonly cutOff: CutOff;
  /** Pieces as they lie; only the artwork span and blank lengths need them. */
  readonly pieces: readonly RectMm[];
}

/** Where the time of a run goes. `strokesMs` has one entry a stroke; the stand-in steps through the same list. */
export interface RunTime {
  readonly swathMm: number;
  readonly advanceMm: number;
  readonly strokes: number;
  readonly strokesMs: readonly number[];
  readonly startUpMs: number;
  readonly printMs: number;
  readonly dryOutMs: number;
  readonly cutMs: number;
  readonly totalMs: number;
}

/** Height printed by one stroke: nozzles per channel ÷ nozzles per inch (mm). */
export function swathMm(machine: CarriageConstants): number {
  return (machine.nozzlesPerChannel / machine.nozzlesPerInch) * 25.4;
}

/** Strokes for a length: ceil(length ÷ advance) + passes − 1. */
export function strokeCount(lengthMm: number, advanceMm: number, passes: number): number {
  return Math.ceil(lengthMm / advanceMm - 1e-9) + passes - 1;
}

/** One stroke over `spanMm`: span ÷ v + 2·v ÷ a + dwell; one-directional adds the empty return with its own ramps (s). */
export function strokeSeconds(spanMm: number, machine: CarriageConstants, oneDirectional: boolean): number {
  const { carriageMmPerS: v, carriageMmPerS2: a, dwellS, returnMmPerS: r } = machine;
  const there = spanMm / v + (2 * v) / a + dwellS;
  return oneDirectional ? there + spanMm / r + (2 * r) / a + dwellS : there;
}

/**
 * Time of a run in one coat, by the closed form: start-up + Σ strokes + dry-out feed + cut.
 * Source: the stroke model above; strokes over blank length are fed through at feed speed when nothing of the run lies
 * under the head.
 */
export function runTime(run: TimedRun, machine: CarriageConstants): RunTime {
  const swath = swathMm(machine);
  const advance = swath / run.mode.passes;
  const strokes = strokeCount(run.lengthMm, advance, run.mode.passes);
  const strokesMs = strokeDurations(run, machine, swath, advance, strokes);
  const printMs = strokesMs.reduce((sum, ms) => sum + ms, 0);
  const startUpMs = machine.startUpS * 1000;
  const dryOutMs = run.dryOut ? (run.lengthMm / machine.dryOutMmPerS) * 1000 : 0;
  const cutMs = run.cutOff === 'full' ? machine.fullCutS * 1000 : 0;
  return {
    swathMm: swath,
    advanceMm: advance,
    strokes,
    strokesMs,
    startUpMs,
    printMs,
    dryOutMs,
    cutMs,
    totalMs: startUpMs + printMs + dryOutMs + cutMs,
  };
}

function strokeDurations(
  run: TimedRun,
  machine: CarriageConstants,
  swath: number,
  advance: number,
  strokes: number,
): number[] {
  const one = run.mode.oneDirectional;
  if (run.pieces.length === 0) {
    const span = run.span === 'whole bed' ? machine.bedWidthMm : run.mediaWidthMm;
    return new Array<number>(strokes).fill(strokeSeconds(span, machine, one) * 1000);
  }
  const spans = artworkSpans(run.pieces, swath, advance, strokes);
  return spans.map((extent, i) => {
    if (extent.from >= extent.to) return (advance / machine.feedMmPerS) * 1000;
    if (run.span === 'whole bed') return strokeSeconds(machine.bedWidthMm, machine, one) * 1000;
    if (run.span === 'media') return strokeSeconds(run.mediaWidthMm, machine, one) * 1000;
    const next = spans[i + 1] ?? extent;
    const from = Math.min(extent.from, next.from);
    const to = Math.max(extent.to, next.to);
    return strokeSeconds(to - from, machine, one) * 1000;
  });
}

/** Leftmost start and rightmost end under the head in each stroke; from ≥ to where the stroke is blank. */
function artworkSpans(
  pieces: readonly RectMm[],
  swath: number,
  advance: number,
  strokes: number,
): { from: number; to: number }[] {
  const spans = Array.from({ length: strokes }, () => ({ from: Infinity, to: -Infinity }));
  for (const piece of pieces) {
    // Stroke i covers (i + 1)·advance − swath … (i + 1)·advance.
    const first = Math.max(0, Math.ceil(piece.yMm / advance - 1 + 1e-9));
    const last = Math.min(strokes - 1, Math.floor((piece.yMm + piece.heightMm + swath) / advance - 1 - 1e-9));
    for (let i = first; i <= last; i++) {
      const span = spans[i];
      if (!span) continue;
      span.from = Math.min(span.from, piece.xMm);
      span.to = Math.max(span.to, piece.xMm + piece.widthMm);
    }
  }
  return spans;
}
