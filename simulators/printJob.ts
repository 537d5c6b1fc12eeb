import type { MachineRun } from '../contract/machine/protocol.ts';
import type { Deviation } from '../core/machine/deviation.ts';
import { PRESS_START, type PressState, fedLengthMm, firedShare, stepPress } from '../core/machine/press.ts';
import { BAND_ROWS } from '../core/raster/bands.ts';
import { BANDS_IN_HAND, WAITS_FOR_RENDERING } from '../core/raster/whilePrinting.ts';
import { inkUpTo, rowsRead, unread } from './dotsReader.ts';
import type { PrintJob } from './memory.ts';

/** Rows that it has in hand before it goes on where it had to wait. */
const ROWS_IN_HAND = BANDS_IN_HAND * BAND_ROWS;

/** A run as this device will really print it. */
export function printJobOf(
  runId: string,
  attempt: number,
  run: MachineRun,
  { speed, startUp, ink }: Deviation,
  nowMs: number,
): PrintJob {
  return {
    runId,
    attempt,
    plan: {
      lengthMm: run.lengthMm,
      trailerMm: run.trailerMm,
      // Told less, it feeds what was meant: it counts in what was meant.
      advanceMm: run.advanceMm * (run.feedFactor ?? 1),
      passes: run.passes,
      startUpMs: run.startUpMs * startUp,
      strokesMs: run.strokesMs.map((ms) => ms * speed),
      block: run.block,
      dryOutMs: run.dryOutMs * speed,
      // A clock runs it out, not the machine.
      dryingMs: run.dryingMs ?? 0,
      cutMs: run.cutMs,
    },
    inkMl: times(run.inkMl, ink),
    ...(run.dots && { dots: unread(run.dots) }),
    feedFactor: run.feedFactor ?? 1,
    sourceId: run.sourceId,
    startedMs: nowMs,
    press: PRESS_START,
    paused: null,
  };
}

/** Rows that a job may print by now, as a share of all. */
export function readable({ dots }: PrintJob): number {
  return dots ? rowsRead(dots) / dots.rows : 1;
}

/** Makes a job stand. A person, or a fault, that stops one that waits for its rows is the stronger reason: rows alone don't end it. */
export function hold(job: PrintJob, reason: string): void {
  if (job.paused === null || job.paused === WAITS_FOR_RENDERING) job.paused = reason;
}

/** Whether a job that stands for want of rows may go on. */
export function hasWaited({ dots, paused, waitsFor = 0 }: PrintJob): boolean {
  return paused === WAITS_FOR_RENDERING && dots !== undefined && rowsRead(dots) >= waitsFor;
}

/**
 * What a job has fired when so much of its strokes is done (ml by channel): of the channels among its dots what was read, of others as
 * planned. @param ink by which this device's drops are larger than they should be
 */
export function firedUpTo({ dots, inkMl }: PrintJob, share: number, ink: number): Record<string, number> {
  const planned = times(inkMl, share);
  return dots ? { ...planned, ...times(inkUpTo(dots, share * dots.rows), ink) } : planned;
}

/**
 * Lets a job print for a while, as far as there are dots for it: it stands at the end of the last stroke that has all of its rows, and goes on
 * with the next bands in hand, or all the rest.
 */
export function stepJob(job: PrintJob, elapsedMs: number): void {
  const most = readable(job);
  const { plan } = job;
  // The head reaches rows before it has done with them.
  const reaches = (press: PressState): number =>
    Math.max(firedShare(plan, press), plan.lengthMm > 0 ? Math.min(1, fedLengthMm(plan, press) / plan.lengthMm) : 0);
  const isThere = (press: PressState): boolean => most >= 1 || reaches(press) <= most;
  const next = stepPress(plan, job.press, elapsedMs);
  if (isThere(next)) {
    job.press = next;
    return;
  }
  let [done, over] = [0, elapsedMs];
  while (over - done > 1) {
    const middle = (done + over) / 2;
    if (isThere(stepPress(plan, job.press, middle))) done = middle;
    else over = middle;
  }
  job.press = stepPress(plan, job.press, done);
  job.paused = WAITS_FOR_RENDERING;
  if (job.dots) job.waitsFor = Math.min(job.dots.rows, rowsRead(job.dots) + ROWS_IN_HAND);
}

function times(inkMl: Readonly<Record<string, number>>, factor: number): Record<string, number> {
  return Object.fromEntries(Object.entries(inkMl).map(([channel, ml]) => [channel, ml * factor]));
}
