import type { RectMm } from '../geometry/frame.ts';
import type { CarriageConstants } from '../machine/constants.ts';
import type { TimedRun } from './timedRun.ts';

/** One stroke over `spanMm`: span ÷ v + 2·v ÷ a + dwell; one-directional adds the empty return with its own ramps (s). */
export function strokeSeconds(spanMm: number, machine: CarriageConstants, oneDirectional: boolean): number {
  const { carriageMmPerS: v, carriageMmPerS2: a, dwellS, returnMmPerS: r } = machine;
  const there = spanMm / v + (2 * v) / a + dwellS;
  return oneDirectional ? there + spanMm / r + (2 * r) / a + dwellS : there;
}

/**
 * Each stroke of one coat (ms). Source: the stroke model of runTime; strokes over blank length are fed through at feed speed
 * when nothing of the run lies under the head.
 */
export function strokeDurations(
  run: Pick<TimedRun, 'pieces' | 'span' | 'mediaWidthMm' | 'mode' | 'lengthMm'>,
  machine: CarriageConstants,
  { swath, advance, strokes }: { readonly swath: number; readonly advance: number; readonly strokes: number },
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
