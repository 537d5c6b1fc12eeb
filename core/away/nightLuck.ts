import { strainOf } from '../heads/clogLearning.ts';
import { normalQuantile } from '../distributions.ts';
import { modeFitness } from '../heads/fitness.ts';
import type { Luck } from '../schedule/luck.ts';
import type { PlanRun } from '../schedule/plan.ts';
import type { Attendance } from '../schedule/shopHours.ts';
import { wholeRunId } from './awayChange.ts';
import type { keyedChance } from '../keyedChance.ts';
import { timeSeries } from '../estimate/learnedPrinter.ts';
import { type LearnedRate, rateQuantile } from './learnedRate.ts';
import { type DrawnRatio, type LearnedRatio, drawnRatio } from '../estimate/learnedRatio.ts';
import type { ClogChance, NightChance } from './nightChance.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
/** Where nobody ever comes a printer that stopped stands for good: so much later is never (ms). */
const NEVER_MS = 60 * 86_400_000;
const AS_ESTIMATED: DrawnRatio = { mean: 0, deviation: 0 };

type Draw = ReturnType<typeof keyedChance>;

/** What became of a run in one night. */
export interface RunFate {
  /** Printed share at the end of the time away, faults and all. */
  readonly shareAtEnd: number;
  /** Pieces that flaws of the media spoil; Infinity: all of it, since a channel that it uses is not fit. */
  readonly spoiled: number;
}

/** What is drawn of a printer once for a night. */
interface PrinterNight {
  readonly faultRate: number;
  readonly repair: DrawnRatio;
  readonly inkFactor: number;
  faults: number;
  toFault: number;
  /** By channel: what it has lost by clogs, and when it fired last. */
  readonly channels: Map<string, { exercisedMs: number; missing: number[]; readonly theta: number }>;
}

/**
 * The luck of one night: what is not known of each printer and stock is drawn once, then each run is told how long it takes. A fault
 * stops its printer until somebody is there, and for the repair; what is left of the run goes on then. All luck goes by names (see
 * keyedChance), so that a run keeps its luck when it moves. (Odds, “One simulated night”.)
 */
export class NightLuck implements Luck {
  readonly fates = new Map<string, RunFate>();
  private readonly printers = new Map<string, PrinterNight>();
  private readonly rates = new Map<string, number>();
  private readonly times = new Map<string, DrawnRatio>();

  constructor(
    private readonly chance: NightChance,
    private readonly night: number,
    private readonly draw: Draw,
    private readonly attendance: Attendance,
    private readonly endMs: number,
  ) {}

  printMs(printerId: string, run: PlanRun, fromMs: number, forMs: number): number {
    const own = this.printer(printerId);
    const id = wholeRunId(run.id);
    const time = this.timeOf(printerId, run);
    const residual = time.deviation * normalQuantile(this.of('time of a run', id));
    const wholeMs = forMs * Math.exp(time.mean + residual);
    // What is left of a run that prints already is as much of its length.
    const metres = (run.needMm / 1000) * Math.min(1, forMs / Math.max(1, run.estimateMs));
    const jams = this.stockRate('jam', this.chance.jams, run.stockId) * metres;
    const hazard = own.faultRate * (wholeMs / HOUR) + jams;
    let printed = 0;
    let nowMs = fromMs;
    let shareAtEnd = 0;
    const goOn = (toShare: number): void => {
      const toMs = nowMs + (toShare - printed) * wholeMs;
      if (nowMs < this.endMs) {
        const within = Math.min(1, (this.endMs - nowMs) / Math.max(1e-9, toMs - nowMs));
        shareAtEnd = printed + within * (toShare - printed);
      }
      printed = toShare;
      nowMs = toMs;
    };
    let left = hazard;
    // Each fault takes what has been printed so far out of what is left, and waits for hands.
    while (hazard > 0 && own.toFault < left && nowMs < this.endMs) {
      goOn(Math.min(1, 1 - (left - own.toFault) / hazard));
      left -= own.toFault;
      nowMs = this.afterRepair(nowMs, own.repair, this.of('repair', printerId, own.faults));
      own.faults += 1;
      own.toFault = exponential(this.of('fault', printerId, own.faults));
    }
    own.toFault -= left;
    goOn(1);
    const spoiled = this.unfit(printerId, own, run, fromMs) ? Infinity : this.flaws(run, id, metres);
    this.fates.set(run.id, { shareAtEnd, spoiled });
    this.fired(printerId, own, run.inkMl, nowMs);
    return nowMs - fromMs;
  }

  inkFactor(printerId: string): number {
    return this.printer(printerId).inkFactor;
  }

  cared(printerId: string, inkMl: Readonly<Record<string, number>>, atMs: number): void {
    this.fired(printerId, this.printer(printerId), inkMl, atMs);
  }

  private of(kind: string, of: string, index = 0): number {
    return this.draw({ night: this.night, kind, of }, index);
  }

  private printer(id: string): PrinterNight {
    const known = this.printers.get(id);
    if (known) return known;
    const { faults, ink, repair, clogs } = this.chance;
    const inkRatio = this.ratio('ink', id, ink[id]);
    const own: PrinterNight = {
      faultRate: faults[id] ? rateQuantile(faults[id], this.of('fault rate', id)) : 0,
      repair: this.ratio('repair mean', id, repair),
      inkFactor: Math.exp(inkRatio.mean + inkRatio.deviation * normalQuantile(this.of('ink of the night', id))),
      faults: 0,
      toFault: exponential(this.of('fault', id, 0)),
      channels: new Map(
        Object.entries(clogs[id] ?? {}).map(([channelId, { theta, exercisedMs }]) => [
          channelId,
          { exercisedMs, missing: [], theta: rateQuantile(theta, this.of('clogs', `${id} ${channelId}`)) },
        ]),
      ),
    };
    this.printers.set(id, own);
    return own;
  }

  /** By the printer's own times in the mode on the stock, where those are known. */
  private timeOf(printerId: string, { modeId, stockId }: PlanRun): DrawnRatio {
    const series = timeSeries(printerId, modeId, stockId);
    const { time } = this.chance;
    const name = time[series] ? series : printerId;
    const known = this.times.get(name);
    if (known) return known;
    const drawn = this.ratio('time', name, time[name]);
    this.times.set(name, drawn);
    return drawn;
  }

  private ratio(kind: string, of: string, learned: LearnedRatio | DrawnRatio | undefined): DrawnRatio {
    return learned ? drawnRatio(learned, this.of(`${kind} spread`, of), this.of(kind, of)) : AS_ESTIMATED;
  }

  private stockRate(kind: string, learned: Readonly<Record<string, LearnedRate>>, stockId: string): number {
    const rate = learned[stockId];
    if (!rate) return 0;
    const key = `${kind} ${stockId}`;
    const known = this.rates.get(key);
    if (known !== undefined) return known;
    const drawn = rateQuantile(rate, this.of(`${kind} rate`, stockId));
    this.rates.set(key, drawn);
    return drawn;
  }

  /** When a printer that stopped prints again: the next time that somebody is there, and the repair. */
  private afterRepair(ms: number, { mean, deviation }: DrawnRatio, u: number): number {
    const there = this.attendance.startFor(ms, 0);
    if (there === undefined) return ms + NEVER_MS;
    return there + Math.exp(mean + deviation * normalQuantile(u)) * MIN;
  }

  /** Flaws of the media in a run: as many as come within its metres. The luck is the run's, wherever it is printed. */
  private flaws(run: PlanRun, id: string, metres: number): number {
    const mean = this.stockRate('flaw', this.chance.flaws, run.stockId) * metres;
    let count = 0;
    for (let sum = exponential(this.of('flaw', id)); sum < mean; sum += exponential(this.of('flaw', id, count))) {
      count += 1;
    }
    return count;
  }

  /** New clogs come while a channel stands; where they fall is asked of the fitness rule. */
  private unfit(printerId: string, own: PrinterNight, run: PlanRun, fromMs: number): boolean {
    let unfit = false;
    for (const [channelId, state] of own.channels) {
      if ((run.inkMl[channelId] ?? 0) <= 0) continue;
      const clog = this.chance.clogs[printerId]?.[channelId];
      if (!clog) continue;
      const x = (fromMs - state.exercisedMs) / clog.limitMs;
      if (x > 0.5) this.clog(`${printerId} ${channelId}`, state, clog, x);
      const asks = clog.asks[run.modeId];
      if (!asks || state.missing.length === 0) continue;
      const faults = { ...clog.faults, missing: [...clog.faults.missing, ...state.missing] };
      unfit ||= !modeFitness(clog.heads, asks, faults).fit;
    }
    return unfit;
  }

  private clog(name: string, state: { missing: number[]; readonly theta: number }, clog: ClogChance, x: number): void {
    const nozzles = clog.heads.nozzles * clog.heads.heads;
    const mean = nozzles * (1 - Math.exp(-state.theta * strainOf(x)));
    const before = state.missing.length;
    let count = 0;
    const next = (): number => exponential(this.of('clog comes', name, before + count));
    for (let sum = next(); sum < mean && count < nozzles; sum += next()) {
      state.missing.push(Math.floor(this.of('clog place', name, before + count) * nozzles));
      count += 1;
    }
  }

  private fired(printerId: string, own: PrinterNight, inkMl: Readonly<Record<string, number>>, atMs: number): void {
    for (const [channelId, state] of own.channels) {
      const doseMl = this.chance.clogs[printerId]?.[channelId]?.doseMl ?? Infinity;
      if ((inkMl[channelId] ?? 0) >= doseMl - 1e-12) state.exercisedMs = Math.max(state.exercisedMs, atMs);
    }
  }
}

/** A draw of an exponential with mean 1. */
function exponential(u: number): number {
  return -Math.log(u);
}
