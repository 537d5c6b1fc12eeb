import { alarmHeight, watchRatios } from './changePoint.ts';
import { LEARNED_FROM, type LearnedRatio, learnedRatio, ratioFactor } from './learnedRatio.ts';

/** A ratio, and how many runs it was learned from. */
export interface Learned extends LearnedRatio {
  readonly runs: number;
}

/**
 * How a printer's runs go against their estimates. Each level begins from what the one above it has learned, so that few runs
 * of a mode on a stock say little: printer, then mode, then stock. (Pace, “Learning estimates”.)
 */
export interface LearnedPrinter {
  /** Time of all its runs: actual ÷ estimate. */
  readonly time: Learned;
  readonly modes: Readonly<Record<string, LearnedMode>>;
}

export interface LearnedMode {
  readonly time: Learned;
  readonly stocks: Readonly<Record<string, Learned>>;
  /** Ink fired ÷ estimated, by channel. */
  readonly ink: Readonly<Record<string, number>>;
  /** Ink fired ÷ counted in renderings, by channel: how far a printer's drops are from what they should be. */
  readonly countedInk: Readonly<Record<string, number>>;
}

/** Ink of a run by channel (ml), and whether it was counted or sampled from its real pixels, or is an estimate by small pictures. */
export interface PlannedInk {
  readonly modeId: string;
  readonly inkMl: Readonly<Record<string, number>>;
  readonly inkCounted: boolean;
}

/** How a run without faults went against its estimate. */
export interface LearnedFrom {
  readonly modeId: string;
  readonly stockId: string;
  /** Actual ÷ estimate. */
  readonly time: number;
  /** Fired ÷ planned, by channel; channels that the run did not use are left out. */
  readonly ink: Readonly<Record<string, number>>;
  /** What was planned had been counted in its rendering, or sampled from the same pixels. Estimates and counts are off by different things: each is learned alone. */
  readonly inkCounted: boolean;
}

/** A printer that nobody has seen print. */
export const NOTHING_LEARNED: LearnedPrinter = { time: { ...learnedRatio([]), runs: 0 }, modes: {} };

/** What a series begins from before its first value: as many of the first of all its printer's values. */
const FIRST = 30;

/**
 * What a printer's runs teach. A series that has changed (see changePoint) is learned anew from there: times of a mode on a
 * stock, ink of a channel.
 * @param outcomes runs without faults, the latest first
 * @param values that all series of the shop yield in the time in which one false alarm is taken
 */
export function learnedPrinter(outcomes: readonly LearnedFrom[], values: number): LearnedPrinter {
  const height = alarmHeight(Math.max(3, values));
  const seriesOf = ({ modeId, stockId }: LearnedFrom): string => JSON.stringify([modeId, stockId]);
  const times = lasting(outcomes, (run) => run.time, seriesOf, height);
  const inkOf = inkSeries(outcomes, false, height);
  const countedInkOf = inkSeries(outcomes, true, height);
  const time = learn(times, 0);
  const modes: Record<string, LearnedMode> = {};
  for (const modeId of new Set(outcomes.map((run) => run.modeId))) {
    const ofMode = times.filter(({ run }) => run.modeId === modeId);
    const own = learn(ofMode, time.m);
    const stockIds = new Set(ofMode.map(({ run }) => run.stockId));
    modes[modeId] = {
      time: own,
      stocks: Object.fromEntries(
        [...stockIds].map((stockId) => [
          stockId,
          learn(
            ofMode.filter(({ run }) => run.stockId === stockId),
            own.m,
          ),
        ]),
      ),
      ink: inkOf(modeId),
      countedInk: countedInkOf(modeId),
    };
  }
  return { time, modes };
}

/** What runs teach of ink that was estimated, or of ink that was counted: the factor of each channel in a mode. */
function inkSeries(
  outcomes: readonly LearnedFrom[],
  counted: boolean,
  height: number,
): (modeId: string) => Record<string, number> {
  const own = outcomes.filter(({ inkCounted }) => inkCounted === counted);
  const channelIds = new Set(own.flatMap(({ ink }) => Object.keys(ink)));
  const series = [...channelIds].map((channelId) => ({
    channelId,
    kept: lasting(
      own,
      ({ ink }) => ink[channelId],
      () => channelId,
      height,
    ),
  }));
  return (modeId) =>
    Object.fromEntries(
      series.flatMap(({ channelId, kept }) => {
        const here = kept.filter(({ run }) => run.modeId === modeId);
        return here.length === 0 ? [] : [[channelId, ratioFactor(learn(here, learn(kept, 0).m))]];
      }),
    );
}

interface Kept {
  readonly run: LearnedFrom;
  readonly ratio: number;
}

/** Values, the latest first, without those from before the last change of their series. */
function lasting(
  outcomes: readonly LearnedFrom[],
  ratioOf: (run: LearnedFrom) => number | undefined,
  seriesOf: (run: LearnedFrom) => string,
  height: number,
): Kept[] {
  const all = outcomes.flatMap((run): Kept[] => {
    const ratio = ratioOf(run);
    return ratio !== undefined && ratio > 0 && Number.isFinite(ratio) ? [{ run, ratio }] : [];
  });
  const bySeries = new Map<string, Kept[]>();
  for (const kept of all) {
    const own = bySeries.get(seriesOf(kept.run));
    if (own) own.push(kept);
    else bySeries.set(seriesOf(kept.run), [kept]);
  }
  const m0 = learnedRatio(all.slice(-FIRST).map(({ ratio }) => ratio)).m;
  const counts = new Map(
    [...bySeries].map(([series, own]) => {
      const ratios = own.map(({ ratio }) => ratio).reverse();
      return [series, watchRatios(ratios, m0, height).count];
    }),
  );
  return all.filter(({ run }) => {
    const series = seriesOf(run);
    const left = counts.get(series) ?? 0;
    counts.set(series, left - 1);
    return left > 0;
  });
}

function learn(kept: readonly Kept[], m0: number): Learned {
  const ratios = kept.map(({ ratio }) => ratio);
  return { ...learnedRatio(ratios, m0), runs: Math.min(ratios.length, LEARNED_FROM) };
}

/** What is known of the time of runs in a mode on a stock: of a stock or mode that is new, what the level above it says. */
export function learnedTime({ time, modes }: LearnedPrinter, modeId: string, stockId: string): Learned {
  const mode = modes[modeId];
  const stock = mode?.stocks[stockId];
  if (stock) return stock;
  const { m, runs } = mode?.time ?? time;
  return { ...learnedRatio([], m), runs };
}

/** How long a run is likely to take (ms): its estimate times what such runs were off by. */
export function timeAsItGoes(estimateMs: number, learned: LearnedPrinter, modeId: string, stockId: string): number {
  return estimateMs * ratioFactor(learnedTime(learned, modeId, stockId));
}

/** Ink by channel as it will really be fired: each figure times what that channel's figures of its kind were off by (ml). */
export function inkAsItGoes(
  { modeId, inkMl, inkCounted }: PlannedInk,
  learned: LearnedPrinter,
): Record<string, number> {
  const mode = learned.modes[modeId];
  const factors = (inkCounted ? mode?.countedInk : mode?.ink) ?? {};
  return Object.fromEntries(Object.entries(inkMl).map(([id, ml]) => [id, ml * (factors[id] ?? 1)]));
}

/** Names a series of times: what is common to runs of a printer in a mode on a stock. Never the name of a printer alone. */
export function timeSeries(printerId: string, modeId: string, stockId: string): string {
  return JSON.stringify([printerId, modeId, stockId]);
}
