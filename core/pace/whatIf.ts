import { runTime } from '../estimate/runTime.ts';
import type { TimedRun } from '../estimate/timedRun.ts';
import type { RectMm } from '../geometry/frame.ts';
import { MICRO_PER_MINOR, toMinor } from '../estimate/money.ts';
import type { CarriageConstants, CarriageSpan, CutOff } from '../machine/constants.ts';
import { normalQuantile } from '../distributions.ts';

/** What would be otherwise; what is left out stays as it was. */
export interface WhatIfChange {
  readonly span?: CarriageSpan;
  readonly dryOut?: boolean;
  readonly dryMin?: number;
  readonly cutOff?: CutOff;
  readonly passes?: number;
  readonly oneDirectional?: boolean;
}

/** A run that was printed, or is planned. */
export interface WhatIfRun {
  readonly id: string;
  readonly printerId: string;
  readonly stockId: string;
  /** Null: what is changed is not changed on it; it only moves with its line. */
  readonly timed: TimedRun | null;
  /** As it would be laid out otherwise; left out: as it is. */
  readonly relaid?: { readonly lengthMm: number; readonly pieces: readonly RectMm[] };
  readonly startedMs: number;
  readonly endedMs: number;
  /** What of that it stood: waits for people and repairs stay. */
  readonly stoodMs: number;
  /** It can't begin before its last job was there. */
  readonly readyMs: number;
  readonly jobs: readonly { readonly id: string; readonly dueMs: number | null }[];
  readonly fedMm: number;
  readonly mediaWidthMm: number;
  /** What it cost, or is estimated to (micro-units). */
  readonly costMicro: number;
  readonly ratePerHourMinor: number;
  readonly mediaPerM2Minor: number;
  /** Variance of the logarithm of actual ÷ estimate from run to run. */
  readonly variance: number;
}

export interface WhatIfSide {
  /** On the printers (ms). */
  readonly runMs: number;
  readonly fedMm2: number;
  readonly costMinor: number;
  readonly lateJobs: number;
  /** Of all jobs that are late, together (ms). */
  readonly lateMs: number;
}

export interface WhatIfRow {
  readonly runId: string;
  readonly printerId: string;
  readonly stockId: string;
  readonly wasMs: number;
  readonly wouldMs: number;
  readonly wasFedMm: number;
  readonly wouldFedMm: number;
  /** By which it would cost more; below 0: less. */
  readonly costMicro: number;
}

export interface WhatIfAnswer {
  readonly was: WhatIfSide;
  readonly would: WhatIfSide;
  /** Time that would be saved: eight of ten times between these, had the runs been printed again with luck of their own (ms). */
  readonly savedLowMs: number;
  readonly savedHighMs: number;
  /** Runs that the change touches. */
  readonly rows: readonly WhatIfRow[];
}

const HOUR = 3_600_000;
/** Of a range that holds 80 of 100. */
const UPPER = 0.9;

/**
 * What runs would have taken with other settings, beside what they took. The time that a run printed goes by the closed form with and
 * without the change, so that it keeps its own deviation; what it stood stays. Lines are walked again in the same order: each run
 * waits as long as it did once its job was there and its printer free. Ink stays: nothing that may be changed here fires other dots.
 * (Pace, “What-if”.)
 * @param runs all of the lines that are looked at, in any order
 * @throws where the machine of a run that is touched is not among those given
 */
export function whatIf(
  runs: readonly WhatIfRun[],
  machines: Readonly<Record<string, CarriageConstants>>,
  change: WhatIfChange,
): WhatIfAnswer {
  const figures = new Map(runs.map((run) => [run.id, changed(run, machines[run.printerId], change)]));
  const ends = walked(runs, (run) => figures.get(run.id)?.wouldMs ?? run.endedMs - run.startedMs);
  const rows = runs.flatMap((run) => {
    const row = figures.get(run.id);
    return run.timed && row ? [row] : [];
  });
  const extraMicro = rows.reduce((sum, row) => sum + row.costMicro, 0);
  const wasMicro = runs.reduce((sum, { costMicro }) => sum + costMicro, 0);
  const savedMs = rows.reduce((sum, { wasMs, wouldMs }) => sum + wasMs - wouldMs, 0);
  const spreadMs = normalQuantile(UPPER) * Math.sqrt(varianceOf(runs, figures));
  return {
    was: {
      runMs: runs.reduce((sum, { startedMs, endedMs }) => sum + endedMs - startedMs, 0),
      fedMm2: runs.reduce((sum, { fedMm, mediaWidthMm }) => sum + fedMm * mediaWidthMm, 0),
      costMinor: toMinor(wasMicro),
      ...lateness(runs, ({ endedMs }) => endedMs),
    },
    would: {
      runMs: runs.reduce((sum, { id }) => sum + (figures.get(id)?.wouldMs ?? 0), 0),
      fedMm2: runs.reduce((sum, { id, mediaWidthMm }) => sum + (figures.get(id)?.wouldFedMm ?? 0) * mediaWidthMm, 0),
      costMinor: toMinor(wasMicro + extraMicro),
      ...lateness(runs, ({ id, endedMs }) => ends.get(id) ?? endedMs),
    },
    savedLowMs: savedMs - spreadMs,
    savedHighMs: savedMs + spreadMs,
    rows,
  };
}

function changed(run: WhatIfRun, machine: CarriageConstants | undefined, change: WhatIfChange): WhatIfRow {
  const { id: runId, printerId, stockId, timed, relaid, fedMm } = run;
  const wasMs = run.endedMs - run.startedMs;
  const plain = { runId, printerId, stockId, wasMs, wouldMs: wasMs, wasFedMm: fedMm, wouldFedMm: fedMm, costMicro: 0 };
  if (!timed) return plain;
  if (!machine) throw new Error(`there is no machine for ${printerId}`);
  const { passes, oneDirectional, ...values } = change;
  const mode = {
    ...timed.mode,
    ...(passes === undefined ? {} : { passes }),
    ...(oneDirectional === undefined ? {} : { oneDirectional }),
  };
  const before = runTime(timed, machine).totalMs;
  const after = runTime({ ...timed, ...values, mode, ...(relaid ?? {}) }, machine).totalMs;
  const printedMs = Math.max(0, wasMs - run.stoodMs);
  const wouldMs = wasMs - printedMs + (before > 0 ? (printedMs * after) / before : printedMs);
  const wouldFedMm = fedMm + (relaid ? relaid.lengthMm - timed.lengthMm : 0);
  const timeMicro = ((wouldMs - wasMs) / HOUR) * run.ratePerHourMinor * MICRO_PER_MINOR;
  const mediaMicro = (((wouldFedMm - fedMm) * run.mediaWidthMm) / 1e6) * run.mediaPerM2Minor * MICRO_PER_MINOR;
  return { ...plain, wouldMs, wouldFedMm, costMicro: timeMicro + mediaMicro };
}

/** When each run would have ended, printer by printer in the order in which they were printed. */
function walked(runs: readonly WhatIfRun[], lastsMs: (run: WhatIfRun) => number): Map<string, number> {
  const ends = new Map<string, number>();
  const before = new Map<string, { readonly wasMs: number; readonly wouldMs: number }>();
  for (const run of [...runs].sort((a, b) => a.startedMs - b.startedMs)) {
    const last = before.get(run.printerId);
    const readyMs = Math.min(run.readyMs, run.startedMs);
    const freeMs = Math.max(readyMs, last?.wasMs ?? run.startedMs);
    const waitMs = Math.max(0, run.startedMs - freeMs);
    const startMs = last ? Math.max(readyMs, last.wouldMs) + waitMs : run.startedMs;
    const endMs = startMs + lastsMs(run);
    ends.set(run.id, endMs);
    before.set(run.printerId, { wasMs: run.endedMs, wouldMs: endMs });
  }
  return ends;
}

/** A job is there once its last run has ended. */
function lateness(
  runs: readonly WhatIfRun[],
  endOf: (run: WhatIfRun) => number,
): Pick<WhatIfSide, 'lateJobs' | 'lateMs'> {
  const jobs = new Map<string, { readonly dueMs: number; readonly endMs: number }>();
  for (const run of runs) {
    for (const { id, dueMs } of run.jobs) {
      if (dueMs === null) continue;
      jobs.set(id, { dueMs, endMs: Math.max(endOf(run), jobs.get(id)?.endMs ?? -Infinity) });
    }
  }
  const late = [...jobs.values()].map(({ dueMs, endMs }) => endMs - dueMs).filter((ms) => ms > 0);
  return { lateJobs: late.length, lateMs: late.reduce((sum, ms) => sum + ms, 0) };
}

/** Variance of the time that is saved (ms²): what was printed had luck of its own, and what would be has another. */
function varianceOf(runs: readonly WhatIfRun[], figures: ReadonlyMap<string, WhatIfRow>): number {
  return runs.reduce((sum, { id, timed, variance }) => {
    const row = figures.get(id);
    if (!timed || !row || row.wouldMs === row.wasMs) return sum;
    return sum + variance * (row.wasMs ** 2 + row.wouldMs ** 2);
  }, 0);
}
