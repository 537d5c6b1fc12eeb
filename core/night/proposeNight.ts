import { planWithPurges } from '../care/plannedPurges.ts';
import type { Random } from '../random.ts';
import type { FloorSnapshot } from '../schedule/plan.ts';
import { type Nights, type Odds, gainOf, oddsOf, simulateNights } from '../away/nights.ts';
import { type NightQuestion, type NightScore, NightScorer, isBetter } from './nightScore.ts';
import { type Assignment, type NightMove, type NightUnit, keyOf, movesBetween, standingOf } from './nightUnits.ts';

/** A night as it is planned: as it stands, or as it could be. */
export interface NightSide {
  readonly assignment: Assignment;
  /** By 2,000 nights. */
  readonly worth: Odds;
  readonly promised: Odds | null;
  /** Purges of timers in it: work makes some needless, and which depends on what is printed where. */
  readonly purges: { readonly printed: number; readonly skipped: number };
  /** Units that the plan without chance prints, and the chance of each. */
  readonly byUnit: Readonly<Record<string, number>>;
}

/** A better night, or why there is none. */
export interface NightAnswer {
  readonly standing: NightSide;
  readonly proposed: NightSide;
  /** What it is better by, night by night (minor units). */
  readonly gain: Odds;
  /** It is shown: it keeps promises better, or as well and is worth more, beyond chance. */
  readonly isBetter: boolean;
  /** No assignment reaches the confidence: this one comes nearest. */
  readonly fallsShort: boolean;
  readonly moves: readonly NightMove[];
  /** Units that could be promised together: all of them are printed with the confidence. */
  readonly promise: readonly string[];
}

/** Kept to be judged by nights. */
const FINALISTS = 20;
/** Of these, so many keep promises more surely than is asked for: the search only estimates how surely. */
const MARGINS = [0.05, 0.1, 0.2] as const;
const OF_EACH_MARGIN = 2;
const TRIES = 4;
const COMMON_NIGHTS = 200;
const FRESH_NIGHTS = 2000;
/** A gain has to be beyond chance by so many errors, and worth this (minor units). */
const ERRORS = 2;
const LEAST_MINOR = 100;

export interface NightSearch {
  readonly seed: number;
  readonly random: Random;
  /** Assignments that may be judged. */
  readonly evaluations: number;
  readonly shouldStop: () => boolean;
  readonly told?: (share: number) => void;
}

/**
 * The night that is worth most by morning at a chosen confidence, beside the plan as it stands: which units are printed, where and in
 * which order. Promises rank before worth. It searches by the plan without chance, judges the best twenty by 200 common nights, and the
 * winner by 2,000 fresh ones. What stands, prints or is fixed is among the candidates and stays where it is; the answer is never worse
 * than the plan as it stands by the same nights. (The night's proposal.)
 */
export function proposeNight(question: NightQuestion, search: NightSearch): NightAnswer {
  const scorer = new NightScorer(question);
  const printerIds = question.world.floor.printers.map(({ printer }) => printer.id);
  const standing = standingOf(question.units, printerIds);
  const finalists = searched(question, scorer, standing, search);
  const judged = finalists.map((assignment) => {
    const nights = nightsOfAssignment(question, scorer, assignment, 0, COMMON_NIGHTS, search.seed);
    return { assignment, score: scoreOf(question, nights) };
  });
  const better = judged
    .filter(({ assignment }) => keyOf(assignment) !== keyOf(standing))
    .sort((x, y) => (isBetter(x.score, y.score) ? -1 : isBetter(y.score, x.score) ? 1 : 0));
  const blocks = triesOf(better).map(({ assignment }, i) => {
    // Each try has nights of its own: no figure is taken from nights that chose.
    const fresh = (which: Assignment): Nights =>
      nightsOfAssignment(question, scorer, which, COMMON_NIGHTS + i * FRESH_NIGHTS, FRESH_NIGHTS, search.seed);
    return { assignment, judge: () => ({ before: fresh(standing), after: fresh(assignment) }) };
  });
  let kept: { readonly assignment: Assignment; readonly before: Nights; readonly after: Nights } | undefined;
  for (const { assignment, judge } of blocks) {
    const nights = judge();
    if (accepts(question, nights.before, nights.after)) {
      kept = { assignment, ...nights };
      break;
    }
  }
  const before =
    kept?.before ?? nightsOfAssignment(question, scorer, standing, COMMON_NIGHTS, FRESH_NIGHTS, search.seed);
  const after = kept?.after ?? before;
  const chosen = kept?.assignment ?? standing;
  const proposed = sideOf(question, scorer, chosen, after);
  return {
    standing: sideOf(question, scorer, standing, before),
    proposed,
    gain: gainOf(before.worth, after.worth),
    isBetter: kept !== undefined,
    fallsShort: (proposed.promised?.chance ?? 1) < question.confidence,
    moves: movesBetween(question.units, standing, chosen),
    promise: promiseOf(question, after),
  };
}

/** What is judged by fresh nights, one after another until one is accepted: the best, then those that promise more surely. */
function triesOf<T extends { readonly score: NightScore }>(ranked: readonly T[]): T[] {
  const tries: T[] = [];
  for (const each of ranked) {
    const surest = tries.at(-1)?.score.promisedChance ?? -Infinity;
    if (each.score.promisedChance > surest + 1e-9 && tries.length < TRIES) tries.push(each);
  }
  return tries;
}

/** Whether a night is shown in place of the one that stands. (The night's proposal, “Accept rule”.) */
function accepts(question: NightQuestion, before: Nights, after: Nights): boolean {
  const gain = gainOf(before.worth, after.worth);
  const [was, is] = [promisedNights(question, before), promisedNights(question, after)];
  const lacks = (nights: Uint8Array | null): number =>
    nights === null ? 0 : Math.max(0, question.confidence - oddsOf(nights).chance);
  const surer = was && is ? gainOf(was, is) : { chance: 0, error: 0 };
  if (lacks(is) < lacks(was) - 1e-12 && surer.chance >= ERRORS * surer.error) return true;
  return lacks(is) <= lacks(was) + 1e-12 && gain.chance >= ERRORS * gain.error && gain.chance >= LEAST_MINOR;
}

/** Nights in which every promised unit is printed; null: nothing is promised. */
function promisedNights({ promised }: NightQuestion, { runIds, succeeded, plan }: Nights): Uint8Array | null {
  if (promised.length === 0) return null;
  const all = new Uint8Array(plan.length).fill(1);
  for (const id of promised) {
    const own = succeeded[runIds.indexOf(id)];
    for (let n = 0; n < all.length; n += 1) all[n] = (all[n] ?? 0) & (own?.[n] ?? 0);
  }
  return all;
}

function scoreOf(question: NightQuestion, nights: Nights): NightScore {
  const promised = promisedNights(question, nights);
  const promisedChance = promised === null ? 1 : oddsOf(promised).chance;
  const worthMinor = nights.worth.reduce((sum, each) => sum + each, 0) / Math.max(1, nights.worth.length);
  return { shortfall: Math.max(0, question.confidence - promisedChance), promisedChance, worthMinor };
}

function nightsOfAssignment(
  question: NightQuestion,
  scorer: NightScorer,
  assignment: Assignment,
  from: number,
  count: number,
  seed: number,
): Nights {
  const { units, world, chance } = question;
  const costs = scorer.costs(assignment);
  const placed = units.filter(({ id }) => costs.has(id));
  const runs = Object.fromEntries(
    placed.map(({ id, name, pieces, valueMinor }) => [
      id,
      { name, pieces, jobs: [], valueMinor, costMinor: costs.get(id) ?? 0, evenMl: null },
    ]),
  );
  const nights = simulateNights(
    {
      ...{ floor: scorer.floorOf(assignment), period: world.period, chance },
      wanted: placed.map(({ id }) => id),
      worth: { runs, printers: world.printers },
    },
    { from, count, seed },
  );
  const left = units.filter(({ id }) => !costs.has(id)).reduce((sum, unit) => sum + scorer.lateIfLeft(unit), 0);
  return { ...nights, worth: nights.worth.map((each) => each - left) };
}

function sideOf(question: NightQuestion, scorer: NightScorer, assignment: Assignment, nights: Nights): NightSide {
  const n = nights.worth.length;
  const mean = nights.worth.reduce((sum, each) => sum + each, 0) / n;
  const variance = nights.worth.reduce((sum, each) => sum + (each - mean) ** 2, 0) / n;
  const promised = promisedNights(question, nights);
  return {
    assignment,
    worth: { chance: mean, error: Math.sqrt(variance / n) },
    promised: promised && oddsOf(promised),
    purges: purgesOf(question, scorer.floorOf(assignment)),
    byUnit: Object.fromEntries(
      nights.runIds.map((id, i) => [id, oddsOf(nights.succeeded[i] ?? new Uint8Array(n)).chance]),
    ),
  };
}

/** What becomes of the purges of timers while nobody is there, by the rule that skips what work has exercised. */
function purgesOf({ world: { period, printers } }: NightQuestion, floor: FloorSnapshot): NightSide['purges'] {
  const { plan, skipped } = planWithPurges(floor, printers, () => null);
  let [printed, left] = [0, 0];
  for (const [printerId, { events }] of plan.lines) {
    for (const event of events) {
      const isMeant = event.kind === 'care' && printers[printerId]?.care[event.id]?.skippable === true;
      if (!isMeant || event.fromMs < period.fromMs || event.fromMs >= period.toMs) continue;
      if (skipped.has(event.id)) left += 1;
      else if (event.lacks === null) printed += 1;
    }
  }
  return { printed, skipped: left };
}

/** The units worth most that are all printed with the confidence: the dearest first, as long as the nights bear it. */
function promiseOf({ units, confidence }: NightQuestion, { runIds, succeeded, plan }: Nights): string[] {
  let joint = new Uint8Array(plan.length).fill(1);
  const promise: string[] = [];
  const dearest = [...units].sort((a, b) => b.valueMinor - a.valueMinor);
  for (const { id } of dearest) {
    const own = succeeded[runIds.indexOf(id)];
    if (!own) continue;
    const both = joint.map((each, n) => each & (own[n] ?? 0));
    if (oddsOf(both).chance < confidence) continue;
    joint = both;
    promise.push(id);
  }
  return promise;
}

/** The best assignments that a search finds, the plan as it stands among them. */
function searched(
  { units, confidence }: NightQuestion,
  scorer: NightScorer,
  standing: Assignment,
  { random, evaluations, shouldStop, told }: NightSearch,
): Assignment[] {
  const pool = new Map<string, { readonly assignment: Assignment; readonly score: NightScore }>();
  const movable = units.filter(({ isFixed }) => !isFixed);
  let left = evaluations;
  // Once everything has been judged, nothing new comes.
  let asked = 0;
  const judge = (assignment: Assignment): NightScore => {
    asked += 1;
    const key = keyOf(assignment);
    const known = pool.get(key);
    if (known) return known.score;
    left -= 1;
    told?.(1 - left / evaluations);
    const score = scorer.score(assignment);
    pool.set(key, { assignment, score });
    return score;
  };
  const isDone = (): boolean => left <= 0 || asked > evaluations * MOST_REPEATS || shouldStop();
  const start = { assignment: standing, score: judge(standing) };
  let best = descend(start, movable, scorer, judge, random, isDone);
  while (!isDone() && movable.length > 0) {
    let shaken = best.assignment;
    for (let i = 0; i < KICKS; i += 1) shaken = kicked(shaken, movable, scorer, random);
    const found = descend({ assignment: shaken, score: judge(shaken) }, movable, scorer, judge, random, isDone);
    if (isBetter(found.score, best.score)) best = found;
  }
  const all = [...pool.values()];
  const ranked = (confidenceMore: number, count: number): Assignment[] => {
    const lacking = ({ shortfall, promisedChance, worthMinor }: NightScore): NightScore => ({
      shortfall: Math.max(shortfall, Math.min(1, confidence + confidenceMore) - promisedChance, 0),
      ...{ promisedChance, worthMinor },
    });
    return all
      .map(({ assignment, score }) => ({ assignment, score: lacking(score) }))
      .sort((a, b) => (isBetter(a.score, b.score) ? -1 : isBetter(b.score, a.score) ? 1 : 0))
      .slice(0, count)
      .map(({ assignment }) => assignment);
  };
  const finalists = [
    standing,
    ...ranked(0, FINALISTS - MARGINS.length * OF_EACH_MARGIN),
    ...MARGINS.flatMap((margin) => ranked(margin, OF_EACH_MARGIN)),
  ];
  return [...new Map(finalists.map((each) => [keyOf(each), each])).values()];
}

const KICKS = 3;
const MOST_REPEATS = 5;

interface Candidate {
  readonly assignment: Assignment;
  readonly score: NightScore;
}

/** Moves one unit to another place, or swaps two, wherever that is better, until nothing is. */
function descend(
  start: Candidate,
  movable: readonly NightUnit[],
  scorer: NightScorer,
  judge: (assignment: Assignment) => NightScore,
  random: Random,
  isDone: () => boolean,
): Candidate {
  let now = start;
  for (let better = true; better && !isDone();) {
    better = false;
    for (const unit of shuffled(movable, random)) {
      let best: Candidate | undefined;
      for (const next of placesOf(now.assignment, unit, movable, scorer)) {
        if (isDone()) break;
        const score = judge(next);
        if (isBetter(score, (best ?? now).score)) best = { assignment: next, score };
      }
      if (!best) continue;
      now = best;
      better = true;
    }
  }
  return now;
}

/** The unit everywhere that it could be, and in the place of others. */
function* placesOf(
  assignment: Assignment,
  unit: NightUnit,
  movable: readonly NightUnit[],
  scorer: NightScorer,
): Generator<Assignment> {
  const without = removed(assignment, unit.id);
  if (unit.standsOn === null) yield without;
  for (const [printerId, ids] of Object.entries(without)) {
    if (!scorer.takes(printerId, unit.id)) continue;
    for (let at = 0; at <= ids.length; at += 1) yield inserted(without, printerId, at, unit.id);
  }
  const here = placeOf(assignment, unit.id);
  for (const other of movable) {
    const there = placeOf(assignment, other.id);
    if (other.id === unit.id || (!here && !there)) continue;
    const fits =
      (there === null || scorer.takes(there[0], unit.id)) && (here === null || scorer.takes(here[0], other.id));
    // What stands in a line stays in one.
    if (!fits || (there === null && unit.standsOn !== null) || (here === null && other.standsOn !== null)) continue;
    yield swapped(assignment, unit.id, other.id);
  }
}

function kicked(
  assignment: Assignment,
  movable: readonly NightUnit[],
  scorer: NightScorer,
  random: Random,
): Assignment {
  const unit = movable[Math.floor(random() * movable.length)];
  if (!unit) return assignment;
  const without = removed(assignment, unit.id);
  const able = Object.keys(without).filter((printerId) => scorer.takes(printerId, unit.id));
  const printerId = able[Math.floor(random() * able.length)];
  if (printerId === undefined) return assignment;
  return inserted(without, printerId, Math.floor(random() * ((without[printerId]?.length ?? 0) + 1)), unit.id);
}

function removed(assignment: Assignment, id: string): Assignment {
  return Object.fromEntries(
    Object.entries(assignment).map(([printerId, ids]) => [printerId, ids.filter((each) => each !== id)]),
  );
}

function inserted(assignment: Assignment, printerId: string, at: number, id: string): Assignment {
  const ids = assignment[printerId] ?? [];
  return { ...assignment, [printerId]: [...ids.slice(0, at), id, ...ids.slice(at)] };
}

function swapped(assignment: Assignment, a: string, b: string): Assignment {
  const other = (id: string): string => (id === a ? b : id === b ? a : id);
  return Object.fromEntries(Object.entries(assignment).map(([printerId, ids]) => [printerId, ids.map(other)]));
}

function placeOf(assignment: Assignment, id: string): readonly [printerId: string, at: number] | null {
  for (const [printerId, ids] of Object.entries(assignment)) {
    const at = ids.indexOf(id);
    if (at >= 0) return [printerId, at];
  }
  return null;
}

function shuffled<T>(items: readonly T[], random: Random): T[] {
  const list = [...items];
  for (let i = list.length - 1; i > 0; i -= 1) {
    const j = Math.floor(random() * (i + 1));
    const [a, b] = [list[i], list[j]];
    if (a !== undefined && b !== undefined) [list[i], list[j]] = [b, a];
  }
  return list;
}
