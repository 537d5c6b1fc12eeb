import type { Random } from '../random.ts';
import { everyAssignment } from './everyAssignment.ts';
import { bestFit, fullestFill } from './firstAssignments.ts';
import { type SpoolAssignment, type SpoolProblem, type SpoolScore, compareScores, scoreOf } from './spoolProblem.ts';
import { improveAssignment } from './improveAssignment.ts';

/** The best that was found, and how. */
export interface SpoolChoices {
  readonly assignment: SpoolAssignment;
  readonly score: SpoolScore;
  /** Every assignment was looked at: none is better. */
  readonly isExact: boolean;
  /** Steps of the search; the same problem, chance and steps give the same answer. */
  readonly steps: number;
}

/** Problems with no more assignments than this are looked at in full. */
const MOST_IN_FULL = 250_000;

/**
 * Which spool each run takes: fewest runs without one, then the least loss, then fewer spools, then the longest remainder.
 * Small problems are looked at in full; of others the best of several starts is improved until nothing helps or time is up.
 * @param starts assignments that are known, such as how it stands today: the answer is never worse than the best of them
 */
export function chooseSpools(
  problem: SpoolProblem,
  starts: readonly SpoolAssignment[],
  { random, maxSteps, shouldStop }: { random: Random; maxSteps: number; shouldStop: () => boolean },
): SpoolChoices {
  const { runs, spools } = problem;
  if ((spools.length + 1) ** runs.length <= MOST_IN_FULL) {
    const { best, looked } = everyAssignment(problem);
    return { ...best, isExact: true, steps: looked };
  }
  const scored = [...starts, bestFit(problem), fullestFill(problem)].flatMap((assignment) => {
    const score = scoreOf(problem, assignment);
    return score ? [{ assignment, score }] : [];
  });
  let best: { readonly assignment: SpoolAssignment; readonly score: SpoolScore } | undefined;
  let steps = 0;
  for (const [i, start] of scored.sort((a, b) => compareScores(a.score, b.score)).entries()) {
    const left = Math.floor((maxSteps - steps) / (scored.length - i));
    const improved = improveAssignment(problem, start.assignment, { random, maxSteps: left, shouldStop });
    steps += improved.steps;
    for (const each of [start, improved]) {
      if (!best || compareScores(each.score, best.score) < 0) best = each;
    }
  }
  if (!best) throw new Error('best-fit could not be scored');
  return { assignment: best.assignment, score: best.score, isExact: false, steps };
}
