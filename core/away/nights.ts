import { normalQuantile } from '../heads/distributions.ts';
import { keyedChance } from './keyedChance.ts';
import { type LearnedRate, rateQuantile } from './learnedRate.ts';
import { type DrawnRatio, type LearnedRatio, drawnRatio } from './learnedRatio.ts';

/** A run as the plan without chance has it. Hours count from the beginning of the period. */
export interface NightRun {
  readonly id: string;
  /** When the plan begins it; it never begins earlier. */
  readonly startH: number;
  readonly hours: number;
  readonly metres: number;
  readonly stockId: string;
}

export interface NightPrinter {
  readonly id: string;
  /** In the order in which they are printed. */
  readonly runs: readonly NightRun[];
}

export interface Night {
  /** Length of the period. */
  readonly hours: number;
  readonly printers: readonly NightPrinter[];
  /** When somebody is there, from and to, in order. */
  readonly attended: readonly (readonly [fromH: number, toH: number])[];
  readonly faults: ReadonlyMap<string, LearnedRate>;
  /** Flaws by stock: each spoils pieces, and the run goes on. */
  readonly flaws: ReadonlyMap<string, LearnedRate>;
  readonly time: ReadonlyMap<string, LearnedRatio | DrawnRatio>;
  /** Minutes of a repair, once somebody is there. */
  readonly repair: LearnedRatio | DrawnRatio;
}

/** Whether each run succeeds in each night: printed within the period, and no piece spoiled. */
export interface Nights {
  readonly runIds: readonly string[];
  /** By run, then by night. */
  readonly succeeded: readonly Uint8Array[];
  /** Whether all of them do. */
  readonly plan: Uint8Array;
}

const NO_RATE: LearnedRate = { kind: 'known', rate: 0 };
const AS_ESTIMATED: DrawnRatio = { mean: 0, deviation: 0 };

/**
 * Simulates nights of a plan: what is not known of each printer and stock is drawn once a night, then the line of each printer is
 * walked. A fault stops a printer until somebody is there, and for the repair; what is left of its run goes on then. Chance goes by
 * names (see keyedChance), so that two plans with one seed share their luck.
 * @param nights how many
 * @param seed the same seed gives the same nights
 */
export function simulateNights(night: Night, nights: number, seed: number): Nights {
  const draw = keyedChance(seed);
  const runs = night.printers.flatMap((printer) => printer.runs);
  const at = new Map(runs.map(({ id }, i) => [id, i]));
  const succeeded = runs.map(() => new Uint8Array(nights));
  const plan = new Uint8Array(nights);
  for (let n = 0; n < nights; n += 1) {
    let all = 1;
    for (const printer of night.printers) {
      const ends = walk(night, printer, n, draw);
      printer.runs.forEach((run, i) => {
        const isPrinted = (ends[i] ?? Infinity) <= night.hours;
        const good = isPrinted && !isFlawed(night, run, n, draw) ? 1 : 0;
        const column = succeeded[at.get(run.id) ?? -1];
        if (column) column[n] = good;
        all &= good;
      });
    }
    plan[n] = all;
  }
  return { runIds: runs.map(({ id }) => id), succeeded, plan };
}

type Draw = ReturnType<typeof keyedChance>;

/** A draw of an exponential with mean 1. */
function exponential(u: number): number {
  return -Math.log(u);
}

/** When each run of a printer ends in one night (h); Infinity: not any more. */
function walk(night: Night, { id, runs }: NightPrinter, n: number, draw: Draw): number[] {
  const key = (kind: string, of = id) => ({ night: n, kind, of });
  const rate = rateQuantile(night.faults.get(id) ?? NO_RATE, draw(key('fault rate')));
  const learned = night.time.get(id);
  const time = learned ? drawnRatio(learned, draw(key('time spread')), draw(key('time'))) : AS_ESTIMATED;
  const repair = drawnRatio(night.repair, draw(key('repair spread')), draw(key('repair mean')));
  let faults = 0;
  let toFault = exponential(draw(key('fault'), faults));
  let freeH = 0;
  return runs.map((run) => {
    const residual = time.deviation * normalQuantile(draw(key('time of a run', run.id)));
    let left = run.hours * Math.exp(time.mean + residual);
    let nowH = Math.max(freeH, run.startH);
    // Each fault takes what has been printed so far out of what is left, and waits for hands.
    while (rate > 0 && toFault < rate * left && nowH < night.hours) {
      const printed = toFault / rate;
      left -= printed;
      const repaired = afterRepair(night.attended, nowH + printed, repair, draw(key('repair'), faults));
      faults += 1;
      toFault = exponential(draw(key('fault'), faults));
      nowH = repaired;
    }
    toFault -= rate * left;
    freeH = nowH + left;
    return freeH;
  });
}

/** When a printer that stopped at `h` prints again: the next time that somebody is there, and the repair. */
function afterRepair(attended: Night['attended'], h: number, { mean, deviation }: DrawnRatio, u: number): number {
  const there = attended.find(([, toH]) => toH > h);
  if (!there) return Infinity;
  return Math.max(h, there[0]) + Math.exp(mean + deviation * normalQuantile(u)) / 60;
}

/** Whether a flaw of the media spoils a piece of a run. The luck is the run's, wherever it is printed. */
function isFlawed({ flaws }: Night, { id, stockId, metres }: NightRun, n: number, draw: Draw): boolean {
  const learned = flaws.get(stockId);
  if (!learned) return false;
  const rate = rateQuantile(learned, draw({ night: n, kind: 'flaw rate', of: stockId }));
  return exponential(draw({ night: n, kind: 'flaw', of: id })) < rate * metres;
}

/** A share of nights, and how far it may be off by chance. */
export interface Odds {
  readonly chance: number;
  /** Standard error. */
  readonly error: number;
}

/** The share of nights in which something came true. */
export function oddsOf(nights: Uint8Array): Odds {
  const chance = nights.reduce((sum, each) => sum + each, 0) / nights.length;
  return { chance, error: Math.sqrt((chance * (1 - chance)) / nights.length) };
}

/**
 * How much more often something comes true with a change than without, night by night with the same luck. (Odds, “Which actions
 * help most”.)
 * @throws RangeError where the nights are not as many
 */
export function gainOf(without: Uint8Array, withIt: Uint8Array): Odds {
  if (without.length !== withIt.length) throw new RangeError('nights are compared one by one: there must be as many');
  const n = without.length;
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < n; i += 1) {
    const difference = (withIt[i] ?? 0) - (without[i] ?? 0);
    sum += difference;
    squares += difference * difference;
  }
  const chance = sum / n;
  return { chance, error: Math.sqrt(Math.max(0, squares / n - chance * chance) / n) };
}
