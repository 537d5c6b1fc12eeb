import { runTime } from '../estimate/runTime.ts';
import type { CutPath, TimedRun } from '../estimate/timedRun.ts';
import type { RectMm } from '../geometry/frame.ts';
import { MICRO_PER_MINOR, toMinor } from '../estimate/money.ts';
import type { CarriageConstants, CarriageSpan, CutOff } from '../machine/constants.ts';
import { normalQuantile } from '../distributions.ts';
import { type Lateness, type WalkChoice, type WalkedRun, latenessOf, walkLines } from './lineWalk.ts';

/** What would be otherwise; what is left out stays as it was. */
export interface WhatIfChange {
  readonly span?: CarriageSpan;
  readonly dryOut?: boolean;
  readonly dryMin?: number;
  readonly cutOff?: CutOff;
  readonly passes?: number;
  readonly oneDirectional?: boolean;
}

/** A run as it would be laid out. */
export interface RelaidRun {
  readonly lengthMm: number;
  readonly pieces: readonly RectMm[];
  /** What the knife follows; left out: what it follows as it is. */
  readonly contours?: CutPath;
}

/** A run on a printer that could have taken it. Differences are by one estimate for both printers, as each learned that it goes. */
export interface ElsewhereRun {
  /** Of the line: a printer, or one more that is like it. */
  readonly lineId: string;
  /** Time there ÷ time where it was. */
  readonly timeRatio: number;
  readonly moreFedMm: number;
  readonly moreInkMl: number;
  /** Ink, media and time (micro-units). */
  readonly moreMicro: number;
  /** As {@link WhatIfRun.variance}, of that printer. */
  readonly variance: number;
}

/** A run that was printed, or is planned. */
export interface WhatIfRun extends WalkedRun {
  readonly stockId: string;
  /** Null: what is changed is not changed on it; it only moves with its line. */
  readonly timed: TimedRun | null;
  /** As it would be laid out otherwise; left out: as it is. */
  readonly relaid?: RelaidRun;
  /** Lines in which it could stand; left out: its own. None: no other printer can take it. */
  readonly elsewhere?: readonly ElsewhereRun[];
  /** Runs before it that would be printed with it as one. */
  readonly takesIn?: readonly string[];
  /** What of that it stood: waits for people and repairs stay. */
  readonly stoodMs: number;
  readonly fedMm: number;
  readonly mediaWidthMm: number;
  /** Fired, or estimated to be. */
  readonly inkMl: number;
  /** What it cost, or is estimated to (micro-units). */
  readonly costMicro: number;
  readonly ratePerHourMinor: number;
  readonly mediaPerM2Minor: number;
  /** Variance of the logarithm of actual ÷ estimate from run to run. */
  readonly variance: number;
}

export interface WhatIfSide extends Lateness {
  /** On the printers (ms). */
  readonly runMs: number;
  readonly fedMm2: number;
  readonly inkMl: number;
  readonly costMinor: number;
}

export interface WhatIfRow {
  readonly runId: string;
  readonly printerId: string;
  readonly stockId: string;
  readonly wasMs: number;
  readonly wouldMs: number;
  readonly wasFedMm: number;
  readonly wouldFedMm: number;
  /** By which it would cost more, and fire more; below 0: less. */
  readonly costMicro: number;
  readonly moreInkMl: number;
  /** The line in which it would have been printed. */
  readonly toLineId: string;
  /** The run with which it would have been printed as one. */
  readonly inRunId: string | null;
  /** As {@link WhatIfRun.variance}, where it would have been printed. */
  readonly wouldVariance: number;
}

/** Work of a printer, or of one more that is like it: time on it (ms) and runs, as it was and as it would be. */
export interface LineShare {
  readonly lineId: string;
  readonly wasMs: number;
  readonly wasRuns: number;
  readonly wouldMs: number;
  readonly wouldRuns: number;
}

export interface WhatIfAnswer {
  readonly was: WhatIfSide;
  readonly would: WhatIfSide;
  /** Time that would be saved: eight of ten times between these, had the runs been printed again with luck of their own (ms). */
  readonly savedLowMs: number;
  readonly savedHighMs: number;
  /** Runs that the change touches. */
  readonly rows: readonly WhatIfRow[];
  /** What each line prints of all that is looked at. */
  readonly lines: readonly LineShare[];
  /** Runs that no other printer can take: neither side counts them. */
  readonly nowhere: readonly string[];
}

const HOUR = 3_600_000;
/** Of a range that holds 80 of 100. */
const UPPER = 0.9;

/**
 * What runs would have taken otherwise, beside what they took. The time that a run printed goes by the closed form with and without
 * the change, so that it keeps its own deviation; what it stood stays. Lines are walked again (see lineWalk). Where settings change,
 * ink stays: none of them fires other dots. Runs that are printed as one take their time and media by the closed form of all of
 * them; a run on another printer by the estimates for both. (Pace, “What-if”.)
 * @param runs all of the lines that are looked at, in any order
 * @throws where the machine of a run that is touched is not among those given
 */
export function whatIf(
  runs: readonly WhatIfRun[],
  machines: Readonly<Record<string, CarriageConstants>>,
  change: WhatIfChange,
): WhatIfAnswer {
  const nowhere = runs.filter(({ elsewhere }) => elsewhere?.length === 0).map(({ id }) => id);
  const printed = runs.filter(({ elsewhere }) => elsewhere?.length !== 0);
  const options = optionsOf(printed, machines, change);
  const { ends, taken } = walkLines(printed, ({ id }) => (options.get(id) ?? []).filter(isInLine).map(choiceOf));
  const figures = new Map(
    printed.flatMap(({ id }) => {
      const row = options.get(id)?.[taken.get(id) ?? 0];
      return row ? [[id, row] as const] : [];
    }),
  );
  const rows = printed.flatMap((run) => {
    const row = figures.get(run.id);
    return run.timed && row ? [row] : [];
  });
  const endOf = ({ id, endedMs }: WalkedRun): number => ends.get(figures.get(id)?.inRunId ?? id) ?? endedMs;
  const extraMicro = rows.reduce((sum, row) => sum + row.costMicro, 0);
  const wasMicro = printed.reduce((sum, { costMicro }) => sum + costMicro, 0);
  const wasMl = printed.reduce((sum, { inkMl }) => sum + inkMl, 0);
  const savedMs = rows.reduce((sum, { wasMs, wouldMs }) => sum + wasMs - wouldMs, 0);
  const spreadMs = normalQuantile(UPPER) * Math.sqrt(varianceOf(printed, figures));
  return {
    was: {
      runMs: printed.reduce((sum, { startedMs, endedMs }) => sum + endedMs - startedMs, 0),
      fedMm2: printed.reduce((sum, { fedMm, mediaWidthMm }) => sum + fedMm * mediaWidthMm, 0),
      inkMl: wasMl,
      costMinor: toMinor(wasMicro),
      ...latenessOf(printed, ({ endedMs }) => endedMs),
    },
    would: {
      runMs: printed.reduce((sum, { id }) => sum + (figures.get(id)?.wouldMs ?? 0), 0),
      fedMm2: printed.reduce((sum, { id, mediaWidthMm }) => sum + (figures.get(id)?.wouldFedMm ?? 0) * mediaWidthMm, 0),
      inkMl: wasMl + rows.reduce((sum, { moreInkMl }) => sum + moreInkMl, 0),
      costMinor: toMinor(wasMicro + extraMicro),
      ...latenessOf(printed, endOf),
    },
    savedLowMs: savedMs - spreadMs,
    savedHighMs: savedMs + spreadMs,
    rows,
    lines: sharesOf([...figures.values()]),
    nowhere,
  };
}

/** What runs come to line by line; a run that is printed along with another is no run of its own. */
function sharesOf(rows: readonly WhatIfRow[]): LineShare[] {
  const lineIds = new Set(rows.flatMap(({ printerId, toLineId }) => [printerId, toLineId]));
  return [...lineIds].map((lineId) => {
    const was = rows.filter(({ printerId }) => printerId === lineId);
    const would = rows.filter(({ toLineId }) => toLineId === lineId);
    return {
      lineId,
      wasMs: was.reduce((sum, { wasMs }) => sum + wasMs, 0),
      wasRuns: was.length,
      wouldMs: would.reduce((sum, { wouldMs }) => sum + wouldMs, 0),
      wouldRuns: would.filter(isInLine).length,
    };
  });
}

function isInLine({ inRunId }: WhatIfRow): boolean {
  return inRunId === null;
}

function choiceOf({ toLineId, wouldMs }: WhatIfRow): WalkChoice {
  return { lineId: toLineId, lastsMs: wouldMs };
}

/** Of each run, what it would be in each line where it could stand. */
function optionsOf(
  runs: readonly WhatIfRun[],
  machines: Readonly<Record<string, CarriageConstants>>,
  change: WhatIfChange,
): Map<string, WhatIfRow[]> {
  const byId = new Map(runs.map((run) => [run.id, run]));
  const takenInto = new Map(runs.flatMap(({ id, takesIn = [] }) => takesIn.map((other) => [other, id] as const)));
  return new Map(
    runs.map((run) => {
      if (run.elsewhere) return [run.id, run.elsewhere.map((there) => onOther(run, there))] as const;
      const machine = machines[run.printerId];
      const inRunId = takenInto.get(run.id);
      if (inRunId !== undefined) return [run.id, [takenIn(run, inRunId)]] as const;
      const others = (run.takesIn ?? []).flatMap((id) => byId.get(id) ?? []);
      return [run.id, [changed(run, others, machine, change)]] as const;
    }),
  );
}

/** A run as it was. */
function asItWas(run: WhatIfRun): WhatIfRow {
  const { id: runId, printerId, stockId, fedMm, variance: wouldVariance } = run;
  const wasMs = run.endedMs - run.startedMs;
  return {
    ...{
      runId,
      printerId,
      stockId,
      wasMs,
      wouldMs: wasMs,
      wasFedMm: fedMm,
      wouldFedMm: fedMm,
      costMicro: 0,
      moreInkMl: 0,
    },
    ...{ toLineId: printerId, inRunId: null, wouldVariance },
  };
}

function printedMs({ startedMs, endedMs, stoodMs }: WhatIfRun): number {
  return Math.max(0, endedMs - startedMs - stoodMs);
}

function onOther(run: WhatIfRun, there: ElsewhereRun): WhatIfRow {
  const plain = asItWas(run);
  return {
    ...plain,
    wouldMs: plain.wasMs + printedMs(run) * (there.timeRatio - 1),
    wouldFedMm: Math.max(0, run.fedMm + there.moreFedMm),
    costMicro: there.moreMicro,
    moreInkMl: there.moreInkMl,
    toLineId: there.lineId,
    wouldVariance: there.variance,
  };
}

/** Printed along with another run: what it takes there is counted on that one. */
function takenIn(run: WhatIfRun, inRunId: string): WhatIfRow {
  return withCost(run, { ...asItWas(run), wouldMs: 0, wouldFedMm: 0, inRunId });
}

/** @param others runs that are printed with it as one */
function changed(
  run: WhatIfRun,
  others: readonly WhatIfRun[],
  machine: CarriageConstants | undefined,
  change: WhatIfChange,
): WhatIfRow {
  const { timed, relaid, fedMm } = run;
  const plain = asItWas(run);
  if (!timed) return plain;
  if (!machine) throw new Error(`there is no machine for ${run.printerId}`);
  const { passes, oneDirectional, ...values } = change;
  const mode = {
    ...timed.mode,
    ...(passes === undefined ? {} : { passes }),
    ...(oneDirectional === undefined ? {} : { oneDirectional }),
  };
  const together = [run, ...others];
  const before = together.reduce((sum, each) => sum + (each.timed ? runTime(each.timed, machine).totalMs : 0), 0);
  const after = runTime({ ...timed, ...values, mode, ...(relaid ?? {}) }, machine).totalMs;
  const printed = together.reduce((sum, each) => sum + printedMs(each), 0);
  const stood = together.reduce((sum, each) => sum + each.endedMs - each.startedMs, 0) - printed;
  const wouldMs = stood + (before > 0 ? (printed * after) / before : printed);
  const wouldFedMm = fedMm + (relaid ? relaid.lengthMm - timed.lengthMm : 0);
  return withCost(run, { ...plain, wouldMs, wouldFedMm });
}

/** What the time and media of a row cost more than they did. */
function withCost(run: WhatIfRun, row: WhatIfRow): WhatIfRow {
  const timeMicro = ((row.wouldMs - row.wasMs) / HOUR) * run.ratePerHourMinor * MICRO_PER_MINOR;
  const moreMm2 = (row.wouldFedMm - row.wasFedMm) * run.mediaWidthMm;
  return { ...row, costMicro: timeMicro + (moreMm2 / 1e6) * run.mediaPerM2Minor * MICRO_PER_MINOR };
}

/** Variance of the time that is saved (ms²): what was printed had luck of its own, and what would be has another. */
function varianceOf(runs: readonly WhatIfRun[], figures: ReadonlyMap<string, WhatIfRow>): number {
  return runs.reduce((sum, { id, timed, variance }) => {
    const row = figures.get(id);
    if (!timed || !row || row.wouldMs === row.wasMs) return sum;
    return sum + variance * row.wasMs ** 2 + row.wouldVariance * row.wouldMs ** 2;
  }, 0);
}
