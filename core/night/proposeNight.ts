import { planWithPurges } from '../care/plannedPurges.ts';
import type { FloorSnapshot } from '../schedule/plan.ts';
import { type Nights, type Odds, gainOf, meanOdds, oddsOf, simulateNights } from '../away/nights.ts';
import { type NightQuestion, type NightScore, NightScorer, isBetter } from './nightScore.ts';
import { type NightSearch, searchNights } from './nightSearch.ts';
import { type Assignment, type NightMove, keyOf, movesBetween, standingOf } from './nightUnits.ts';

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

/** So many are judged by fresh nights at most. */
const TRIES = 4;
const COMMON_NIGHTS = 200;
const FRESH_NIGHTS = 2000;
/** A gain has to be beyond chance by so many errors, and worth this (minor units). */
const ERRORS = 2;
const LEAST_MINOR = 100;

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
  const finalists = searchNights(question, scorer, standing, search);
  const judged = finalists.map((assignment) => {
    const nights = nightsOfAssignment(question, scorer, assignment, 0, COMMON_NIGHTS, search.seed);
    return { assignment, score: scoreOf(question, nights) };
  });
  const better = judged
    .filter(({ assignment }) => keyOf(assignment) !== keyOf(standing))
    .sort((x, y) => (isBetter(x.score, y.score) ? -1 : isBetter(y.score, x.score) ? 1 : 0));
  // Each try has nights of its own: no figure is taken from nights that chose.
  const fresh = (assignment: Assignment, attempt: number): Nights => {
    const from = COMMON_NIGHTS + attempt * FRESH_NIGHTS;
    return nightsOfAssignment(question, scorer, assignment, from, FRESH_NIGHTS, search.seed);
  };
  let before = fresh(standing, 0);
  let kept: { readonly assignment: Assignment; readonly after: Nights } | undefined;
  for (const [attempt, { assignment }] of triesOf(better).entries()) {
    if (attempt > 0) before = fresh(standing, attempt);
    const after = fresh(assignment, attempt);
    if (!accepts(question, before, after)) continue;
    kept = { assignment, after };
    break;
  }
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
  const worthMinor = meanOdds(nights.worth).chance;
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
  const promised = promisedNights(question, nights);
  return {
    assignment,
    worth: meanOdds(nights.worth),
    promised: promised && oddsOf(promised),
    purges: purgesOf(question, scorer.floorOf(assignment)),
    byUnit: Object.fromEntries(
      nights.runIds.map((id, i) => [id, oddsOf(nights.succeeded[i] ?? new Uint8Array(nights.plan.length)).chance]),
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
