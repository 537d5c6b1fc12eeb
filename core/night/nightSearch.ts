import type { Random } from '../random.ts';
import { type NightQuestion, type NightScore, type NightScorer, isBetter } from './nightScore.ts';
import { type Assignment, type NightUnit, keyOf, placeIn } from './nightUnits.ts';

/** Kept to be judged by nights. */
const FINALISTS = 20;
/** Of these, so many keep promises more surely than is asked for: the search only estimates how surely. */
const MARGINS = [0.05, 0.1, 0.2] as const;
const OF_EACH_MARGIN = 2;
/** A search that finds nothing better is shaken by so many moves at random. */
const KICKS = 3;
/** Once everything has been judged, nothing new comes: it ends when it has asked so many times as often as it may judge. */
const MOST_REPEATS = 5;

/** How long a search goes on, and by which luck. */
export interface NightSearch {
  /** Of the nights that judge. */
  readonly seed: number;
  readonly random: Random;
  /** Assignments that may be judged. */
  readonly evaluations: number;
  readonly shouldStop: () => boolean;
}

/** The best assignments that a search finds, the plan as it stands among them. */
export function searchNights(
  { units, confidence }: NightQuestion,
  scorer: NightScorer,
  standing: Assignment,
  { random, evaluations, shouldStop }: NightSearch,
): Assignment[] {
  const pool = new Map<string, { readonly assignment: Assignment; readonly score: NightScore }>();
  const movable = units.filter(({ isFixed }) => !isFixed);
  let left = evaluations;
  let asked = 0;
  const judge = (assignment: Assignment): NightScore => {
    asked += 1;
    const key = keyOf(assignment);
    const known = pool.get(key);
    if (known) return known.score;
    left -= 1;
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
  const here = placeIn(assignment, unit.id);
  for (const other of movable) {
    const there = placeIn(assignment, other.id);
    if (other.id === unit.id || (!here && !there)) continue;
    const fits =
      (there === null || scorer.takes(there.printerId, unit.id)) &&
      (here === null || scorer.takes(here.printerId, other.id));
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

function shuffled<T>(items: readonly T[], random: Random): T[] {
  const list = [...items];
  for (let i = list.length - 1; i > 0; i -= 1) {
    const j = Math.floor(random() * (i + 1));
    const [a, b] = [list[i], list[j]];
    if (a !== undefined && b !== undefined) [list[i], list[j]] = [b, a];
  }
  return list;
}
