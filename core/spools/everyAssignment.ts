import {
  type SpoolAssignment,
  type SpoolProblem,
  type SpoolScore,
  compareScores,
  mayTake,
  scoreOf,
} from './spoolProblem.ts';

/**
 * The best of all assignments, by looking at each that fits. Only for small problems: (spools + 1) to the power of runs.
 */
export function everyAssignment(problem: SpoolProblem): {
  readonly best: { readonly assignment: SpoolAssignment; readonly score: SpoolScore };
  /** Assignments that fit. */
  readonly looked: number;
} {
  const { runs, spools } = problem;
  const leftMm = spools.map((spool) => spool.leftMm);
  const chosen = runs.map(() => -1);
  let best: { assignment: SpoolAssignment; score: SpoolScore } | undefined;
  let looked = 0;
  const put = (i: number): void => {
    const run = runs[i];
    if (!run) {
      const score = scoreOf(problem, chosen);
      if (!score) return;
      looked += 1;
      if (!best || compareScores(score, best.score) < 0) best = { assignment: [...chosen], score };
      return;
    }
    for (let at = spools.length - 1; at >= -1; at -= 1) {
      const spool = spools[at];
      // The leader is left to the score: here only what can't be is passed over early.
      if (spool && (!mayTake(run, spool) || (leftMm[at] ?? 0) < run.needMm)) continue;
      if (spool) leftMm[at] = (leftMm[at] ?? 0) - run.needMm;
      chosen[i] = at;
      put(i + 1);
      if (spool) leftMm[at] = (leftMm[at] ?? 0) + run.needMm;
    }
    chosen[i] = -1;
  };
  put(0);
  if (!best) throw new Error('not even no spool at all could be scored');
  return { best, looked };
}
