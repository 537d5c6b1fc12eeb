import { type CompiledFloor, compileFloor } from '../schedule/compiledFloor.ts';
import { planCompiled } from '../schedule/planFloor.ts';
import type { FloorSnapshot } from '../schedule/plan.ts';
import { wholeRunId } from './awayChange.ts';
import type { AwayWorld } from './awayWorld.ts';
import { keyedChance } from '../keyedChance.ts';
import type { NightChance } from './nightChance.ts';
import { NightLuck } from './nightLuck.ts';

/** A plan whose nights are simulated. */
export interface NightPlan {
  /** With the period away, and without the purges that work makes needless. */
  readonly floor: FloorSnapshot;
  readonly period: { readonly fromMs: number; readonly toMs: number };
  /** Runs that the plan without chance says are done: the plan succeeds where all of them do. */
  readonly wanted: readonly string[];
  readonly chance: NightChance;
  /** What a night is worth, and what is printed before it begins, which counts for nothing; left out: nobody asks. */
  readonly worth?: Pick<AwayWorld, 'runs' | 'printers'>;
  readonly before?: ReadonlySet<string>;
}

/** Whether each run succeeds in each night: printed within the period, and no piece spoiled. */
export interface Nights {
  readonly runIds: readonly string[];
  /** By run, then by night. */
  readonly succeeded: readonly Uint8Array[];
  /** Whether all of them do. */
  readonly plan: Uint8Array;
  /** What each night brings (minor units); zeros where nobody asks. */
  readonly worth: Float64Array;
}

/** Which nights: with one seed, the same numbers are the same nights whoever simulates them. */
export interface WhichNights {
  readonly from: number;
  readonly count: number;
  readonly seed: number;
}

/**
 * Simulates nights of a plan by the planner of the Floor, with what chance makes of its times. Two plans with one seed share their
 * luck.
 * @param told which share is done, after each night
 */
export function simulateNights(
  plan: NightPlan,
  { from, count, seed }: WhichNights,
  told: (share: number) => void = () => undefined,
): Nights {
  const draw = keyedChance(seed);
  const floor = compileFloor(plan.floor);
  const succeeded = plan.wanted.map(() => new Uint8Array(count));
  const all = new Uint8Array(count);
  const worth = new Float64Array(count);
  for (let n = 0; n < count; n += 1) {
    const luck = new NightLuck(plan.chance, from + n, draw, plan.floor.attendance, plan.period.toMs);
    const came = oneNight(plan, floor, luck);
    let every = 1;
    plan.wanted.forEach((id, i) => {
      const good = came.good.has(id) ? 1 : 0;
      const column = succeeded[i];
      if (column) column[n] = good;
      every &= good;
    });
    all[n] = every;
    worth[n] = came.worthMinor;
    told((n + 1) / count);
  }
  return { runIds: plan.wanted, succeeded, plan: all, worth };
}

interface Came {
  /** Runs that succeed. */
  readonly good: ReadonlySet<string>;
  readonly worthMinor: number;
}

function oneNight({ period, worth, before }: NightPlan, floor: CompiledFloor, luck: NightLuck): Came {
  const { lines } = planCompiled(floor, luck);
  const good = new Set<string>();
  let worthMinor = 0;
  for (const [printerId, line] of lines) {
    for (const event of line.events) {
      const fate = event.kind === 'run' ? luck.fates.get(event.id) : undefined;
      if (event.kind !== 'run' || !fate) continue;
      const isWhole = event.toMs <= period.toMs;
      if (isWhole && fate.spoiled === 0) good.add(event.id);
      const about = worth?.runs[wholeRunId(event.id)];
      if (!about || before?.has(event.id) === true) continue;
      // Whole pieces that were printed stay; each flaw takes one.
      const part = wholeRunId(event.id) === event.id ? 1 : 0.5;
      const share = isWhole ? 1 : fate.shareAtEnd;
      const pieces = Math.max(1, about.pieces * part);
      const kept = Math.max(0, Math.floor(share * pieces + 1e-9) - fate.spoiled);
      worthMinor += (part * about.valueMinor * kept) / pieces - part * about.costMinor * share;
    }
    if (!worth) continue;
    const rate = worth.printers[printerId]?.ratePerHourMinor ?? 0;
    worthMinor -= line.lateMinor + (line.changeOverMin / 60) * rate;
  }
  return { good, worthMinor };
}

/** Nights that were simulated in parts, as one. @throws RangeError where there is none */
export function joinNights(parts: readonly Nights[]): Nights {
  const [first] = parts;
  if (!first) throw new RangeError('there are no nights');
  const total = parts.reduce((sum, { plan }) => sum + plan.length, 0);
  const join = (of: (part: Nights) => Uint8Array): Uint8Array => {
    const whole = new Uint8Array(total);
    let at = 0;
    for (const part of parts) {
      whole.set(of(part), at);
      at += part.plan.length;
    }
    return whole;
  };
  return {
    runIds: first.runIds,
    succeeded: first.runIds.map((_id, i) => join((part) => part.succeeded[i] ?? new Uint8Array(part.plan.length))),
    plan: join((part) => part.plan),
    worth: Float64Array.from(parts.flatMap((part) => [...part.worth])),
  };
}

/** A share of nights, or a mean of them, and how far it may be off by chance. */
export interface Odds {
  readonly chance: number;
  /** Standard error. */
  readonly error: number;
}

/** The odds of what came true in so many nights. */
export function shareOdds(came: number, nights: number): Odds {
  const chance = came / nights;
  return { chance, error: Math.sqrt((chance * (1 - chance)) / nights) };
}

/** The share of nights in which something came true. */
export function oddsOf(nights: Uint8Array): Odds {
  return shareOdds(
    nights.reduce((sum, each) => sum + each, 0),
    nights.length,
  );
}

/** What nights come to on average. */
export function meanOdds(nights: ArrayLike<number>): Odds {
  const n = nights.length;
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < n; i += 1) {
    const each = nights[i] ?? 0;
    sum += each;
    squares += each * each;
  }
  const chance = sum / n;
  return { chance, error: Math.sqrt(Math.max(0, squares / n - chance * chance) / n) };
}

/**
 * How much more a change brings than going without it, night by night with the same luck. (Odds, “Which actions help most”.)
 * @throws RangeError where the nights are not as many
 */
export function gainOf(without: ArrayLike<number>, withIt: ArrayLike<number>): Odds {
  if (without.length !== withIt.length) throw new RangeError('nights are compared one by one: there must be as many');
  return meanOdds(Float64Array.from(without, (each, i) => (withIt[i] ?? 0) - each));
}
