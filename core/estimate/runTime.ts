import type { RectMm } from '../geometry/frame.ts';
import type { CarriageConstants } from '../machine/constants.ts';
import { strokeDurations } from './strokes.ts';
import type { TimedRun, CutPath } from './timedRun.ts';

/** What is printed without anything being loaded anew: a whole roll run, or one sheet. */
export interface PrintBlock {
  readonly lengthMm: number;
  /** Of one coat. */
  readonly strokes: number;
  readonly coats: number;
  /** A person takes it off and loads the next. */
  readonly byHand: boolean;
}

/** Where the time of a run goes. `strokesMs` has one entry a stroke; the stand-in steps through the same list. */
export interface RunTime {
  readonly swathMm: number;
  readonly advanceMm: number;
  readonly strokes: number;
  readonly strokesMs: readonly number[];
  readonly block: PrintBlock;
  readonly startUpMs: number;
  /** Strokes, with loads and back-feeds among them. */
  readonly printMs: number;
  readonly loadMs: number;
  readonly backFeedMs: number;
  readonly dryOutMs: number;
  /** It rests, before it is cut off. */
  readonly dryingMs: number;
  readonly cutMs: number;
  readonly contourMs: number;
  /** A person's time at stops; the machine waits meanwhile. */
  readonly handMs: number;
  readonly totalMs: number;
}

/** Steps in which a page-wide array is followed (mm); its time does not depend on it. */
const ARRAY_STEP_MM = 10;

/** Height printed by one stroke: nozzles per channel ÷ nozzles per inch (mm). */
export function swathMm(machine: Pick<CarriageConstants, 'nozzlesPerChannel' | 'nozzlesPerInch'>): number {
  return (machine.nozzlesPerChannel / machine.nozzlesPerInch) * 25.4;
}

/** Strokes for a length in one coat: ceil(length ÷ advance) + passes − 1. */
export function strokeCount(lengthMm: number, advanceMm: number, passes: number): number {
  return Math.ceil(lengthMm / advanceMm - 1e-9) + passes - 1;
}

/**
 * Time of a run by the closed form: start-up + Σ coats of (loads + strokes + back-feed) + dry-out feed + drying + cut off + contour
 * cutting + a person's time at stops. A page-wide array takes length ÷ line speed in place of strokes.
 */
export function runTime(run: TimedRun, machine: CarriageConstants): RunTime {
  const coats = run.coats ?? 1;
  const line = run.mode.lineMmPerS;
  const swath = line === null ? swathMm(machine) : ARRAY_STEP_MM;
  const passes = line === null ? run.mode.passes : 1;
  const advance = swath / passes;
  const blockMm = run.sheets?.lengthMm ?? run.lengthMm;
  const blocks = run.sheets ? Math.max(1, Math.round(run.lengthMm / blockMm)) : 1;
  const strokes = strokeCount(blockMm, advance, passes);
  const loadEachMs = run.sheets ? machine.loadS * 1000 : 0;
  const backEachMs = (blockMm / machine.backFeedMmPerS) * 1000;
  const strokesMs: number[] = [];
  for (let block = 0; block < blocks; block += 1) {
    const pieces = run.sheets ? onSheet(run.pieces, block * blockMm, blockMm) : run.pieces;
    const once =
      line === null
        ? strokeDurations({ ...run, lengthMm: blockMm, pieces }, machine, { swath, advance, strokes })
        : arraySteps(blockMm, line, strokes);
    for (let coat = 0; coat < coats; coat += 1) {
      const before = coat === 0 ? loadEachMs : backEachMs;
      for (const [i, ms] of once.entries()) strokesMs.push(i === 0 ? ms + before : ms);
    }
  }
  const printMs = strokesMs.reduce((sum, ms) => sum + ms, 0);
  const startUpMs = machine.startUpS * 1000;
  const dryOutMs = run.dryOut ? (run.lengthMm / machine.dryOutMmPerS) * 1000 : 0;
  const dryingMs = (run.dryMin ?? 0) * 60_000;
  const cutMs = { none: 0, full: machine.fullCutS, perforated: machine.perforateS }[run.cutOff] * 1000;
  const contourMs = run.contours ? contourCutMs(run.contours, machine) : 0;
  const byHand = run.sheets?.byHand ?? false;
  const handMs = byHand ? (blocks - 1) * machine.handS * 1000 : 0;
  return {
    swathMm: swath,
    advanceMm: advance,
    strokes: strokesMs.length,
    strokesMs,
    block: { lengthMm: blockMm, strokes, coats, byHand },
    startUpMs,
    printMs,
    loadMs: loadEachMs * blocks,
    backFeedMs: backEachMs * (coats - 1) * blocks,
    dryOutMs,
    dryingMs,
    cutMs,
    contourMs,
    handMs,
    totalMs: startUpMs + printMs + dryOutMs + dryingMs + cutMs + contourMs + handMs,
  };
}

/** Mark reading + path ÷ cut speed + knife-up travel ÷ travel speed + lifts; 0 without a knife. */
export function contourCutMs(path: CutPath, { cutter }: Pick<CarriageConstants, 'cutter'>): number {
  if (!cutter || path.rings === 0) return 0;
  const s =
    cutter.markReadS + path.pathMm / cutter.cutMmPerS + path.travelMm / cutter.travelMmPerS + path.rings * cutter.liftS;
  return s * 1000;
}

function arraySteps(lengthMm: number, lineMmPerS: number, steps: number): number[] {
  return Array.from({ length: steps }, (_, i) => {
    const mm = Math.min(ARRAY_STEP_MM, lengthMm - i * ARRAY_STEP_MM);
    return (Math.max(0, mm) / lineMmPerS) * 1000;
  });
}

function onSheet(pieces: readonly RectMm[], fromMm: number, lengthMm: number): RectMm[] {
  return pieces
    .filter((piece) => piece.yMm >= fromMm - 1e-6 && piece.yMm < fromMm + lengthMm - 1e-6)
    .map((piece) => ({ ...piece, yMm: piece.yMm - fromMm }));
}
