import { type SpoolAssignment, type SpoolProblem, type SpoolRun, mayTake } from './spoolProblem.ts';

/** What is known of the spools while runs are put on them one by one. */
class Filling {
  readonly chosen: number[];
  private readonly leftMm: number[];
  private readonly printers: Set<string>[];
  private readonly users: (string | undefined)[] = [];
  private readonly lots = new Map<string, string>();

  constructor(private readonly problem: SpoolProblem) {
    this.chosen = problem.runs.map(() => -1);
    this.leftMm = problem.spools.map(({ leftMm }) => leftMm);
    this.printers = problem.spools.map(({ printerId }) => new Set(printerId === null ? [] : [printerId]));
  }

  /** What would be left of a spool; undefined: the run does not go on it. */
  leftAfter(run: SpoolRun, at: number): number | undefined {
    const spool = this.problem.spools[at];
    if (!spool || !mayTake(run, spool)) return undefined;
    if (run.oneLotFor !== null && (this.lots.get(run.oneLotFor) ?? spool.lot) !== spool.lot) return undefined;
    const users = this.users[at];
    if (this.problem.terms.onePrinter === true && users !== undefined && users !== run.printerId) return undefined;
    const leaderMm = this.printers[at]?.has(run.printerId) ? 0 : this.problem.terms.leaderMm;
    const after = (this.leftMm[at] ?? 0) - run.needMm - leaderMm;
    return after < 0 ? undefined : after;
  }

  put(i: number, at: number): void {
    const run = this.problem.runs[i];
    const after = run && this.leftAfter(run, at);
    if (!run || after === undefined) throw new Error('a run does not go on the spool that was chosen for it');
    this.leftMm[at] = after;
    this.printers[at]?.add(run.printerId);
    this.users[at] = run.printerId;
    const lot = this.problem.spools[at]?.lot;
    if (run.oneLotFor !== null && lot !== undefined) this.lots.set(run.oneLotFor, lot);
    this.chosen[i] = at;
  }
}

const longestFirst = (problem: SpoolProblem): number[] =>
  problem.runs
    .map((_, i) => i)
    .sort((a, b) => (problem.runs[b]?.needMm ?? 0) - (problem.runs[a]?.needMm ?? 0) || a - b);

/** Each run, the longest first, goes where the least is left afterwards. */
export function bestFit(problem: SpoolProblem): SpoolAssignment {
  return shortestThatFits(problem, longestFirst(problem));
}

/** Runs in an order, each on the spool with the least left afterwards. */
export function shortestThatFits(problem: SpoolProblem, order: readonly number[]): SpoolAssignment {
  const filling = new Filling(problem);
  for (const i of order) {
    const run = problem.runs[i];
    if (!run) continue;
    let best: { at: number; after: number } | undefined;
    for (const at of problem.spools.keys()) {
      const after = filling.leftAfter(run, at);
      if (after !== undefined && (!best || after < best.after)) best = { at, after };
    }
    if (best) filling.put(i, best.at);
  }
  return filling.chosen;
}

/**
 * Spool by spool, opened ones and those in a printer first: each takes those runs that use it up best (subset sums in whole
 * mm). What is left over goes where it fits.
 */
export function fullestFill(problem: SpoolProblem): SpoolAssignment {
  const { spools, runs, terms } = problem;
  const order = [...spools.keys()].sort((a, b) => {
    const [one, other] = [spools[a], spools[b]];
    if (!one || !other) return 0;
    return (
      Number(one.isUnopened) - Number(other.isUnopened) ||
      Number(other.printerId !== null) - Number(one.printerId !== null) ||
      one.leftMm - other.leftMm ||
      a - b
    );
  });
  const filling = new Filling(problem);
  const open = new Set(longestFirst(problem));
  for (const at of order) {
    const spool = spools[at];
    if (!spool) continue;
    const able = [...open].filter((i) => {
      const run = runs[i];
      return run !== undefined && filling.leftAfter(run, at) !== undefined;
    });
    const others = new Set(able.map((i) => runs[i]?.printerId).filter((id) => id !== spool.printerId));
    // One leader at least is fed where it is in no printer of these runs; further ones are seen when a run no longer goes on.
    const leaderMm = others.size > 0 && !able.some((i) => runs[i]?.printerId === spool.printerId) ? terms.leaderMm : 0;
    const chosen = fillBest(
      able.map((i) => Math.ceil(runs[i]?.needMm ?? 0)),
      Math.floor(spool.leftMm - leaderMm),
    );
    for (const k of chosen) {
      const i = able[k];
      const run = i === undefined ? undefined : runs[i];
      if (i === undefined || !run || filling.leftAfter(run, at) === undefined) continue;
      filling.put(i, at);
      open.delete(i);
    }
  }
  for (const i of open) {
    const run = runs[i];
    const at = run ? [...spools.keys()].find((each) => filling.leftAfter(run, each) !== undefined) : undefined;
    if (at !== undefined) filling.put(i, at);
  }
  return filling.chosen;
}

/**
 * Which of these lengths (whole mm) come closest to a capacity without going over it; of equal sums the one that uses the
 * earlier ones.
 * @returns their places
 */
export function fillBest(lengths: readonly number[], capacity: number): number[] {
  if (capacity <= 0) return [];
  // The length that completed each sum first, by its place + 1: following it back never uses a length twice, for it was
  // set while only earlier lengths were known.
  const by = new Int32Array(capacity + 1);
  let reached = 0;
  for (const [k, mm] of lengths.entries()) {
    if (mm <= 0 || mm > capacity) continue;
    for (let sum = Math.min(capacity, reached + mm); sum >= mm; sum -= 1) {
      if (by[sum] === 0 && (sum === mm || (by[sum - mm] ?? 0) !== 0)) by[sum] = k + 1;
    }
    reached = Math.min(capacity, reached + mm);
  }
  let sum = capacity;
  while (sum > 0 && by[sum] === 0) sum -= 1;
  const chosen: number[] = [];
  while (sum > 0) {
    const k = (by[sum] ?? 0) - 1;
    chosen.push(k);
    sum -= lengths[k] ?? sum;
  }
  return chosen.reverse();
}
