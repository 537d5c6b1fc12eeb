import type { Random } from '../random.ts';
import {
  type SpoolAssignment,
  type SpoolProblem,
  type SpoolScore,
  compareScores,
  mayTake,
  scoreOf,
  useOf,
} from './spoolProblem.ts';

/** So many runs of two spools are parted in every way; of more, some stay where they are. */
const MOST_PARTED = 11;
/** Of runs without a spool, so many are tried with each pair. */
const MOST_WAITING = 2;

/** What two spools and the runs of them come to. */
interface Part {
  readonly without: number;
  readonly lossMinor: number;
  readonly spools: number;
  /** Remainders gathered on one spool rather than on many: squares of what is left, in m². */
  readonly gathered: number;
}

function isBetterPart(a: Part, b: Part): boolean {
  if (a.without !== b.without) return a.without < b.without;
  if (Math.abs(a.lossMinor - b.lossMinor) > 1e-6) return a.lossMinor < b.lossMinor;
  if (a.spools !== b.spools) return a.spools < b.spools;
  return a.gathered > b.gathered + 1e-9;
}

/**
 * Takes two spools at a time and parts the runs of both, and some that have none, in every way; keeps what is better. Remainders are
 * gathered on the way, for a stub that grows is usable again. Orders of one lot are moved to another lot as a whole.
 */
export function improveAssignment(
  problem: SpoolProblem,
  start: SpoolAssignment,
  { random, maxSteps, shouldStop }: { random: Random; maxSteps: number; shouldStop: () => boolean },
): { readonly assignment: SpoolAssignment; readonly score: SpoolScore; readonly steps: number } {
  const search = new PairSearch(problem, start, random);
  let best = search.chosen.slice();
  let bestScore = scoreOf(problem, best);
  if (!bestScore) throw new Error('the start can not be scored');
  let steps = 0;
  const pairs = pairsOf(problem);
  while (pairs.length > 0) {
    let changed = false;
    shuffle(pairs, random);
    for (const [a, b] of pairs) {
      if (steps >= maxSteps || shouldStop()) return { assignment: best, score: bestScore, steps };
      steps += 1;
      if (search.partAnew(a, b)) changed = true;
    }
    if (search.moveOrders()) changed = true;
    const score = scoreOf(problem, search.chosen);
    if (score && compareScores(score, bestScore) < 0) {
      best = search.chosen.slice();
      bestScore = score;
    }
    if (!changed) break;
  }
  return { assignment: best, score: bestScore, steps };
}

/** Pairs of spools that some run could be moved between. */
function pairsOf({ runs, spools }: SpoolProblem): [number, number][] {
  const takes = spools.map((spool) => runs.some((run) => mayTake(run, spool)));
  const pairs: [number, number][] = [];
  for (const a of spools.keys()) {
    for (let b = a + 1; b < spools.length; b += 1) if (takes[a] && takes[b]) pairs.push([a, b]);
  }
  return pairs;
}

function shuffle(list: unknown[], random: Random): void {
  for (let i = list.length - 1; i > 0; i -= 1) {
    const j = Math.floor(random() * (i + 1));
    const held = list[i];
    const other = list[j];
    if (held === undefined || other === undefined) continue;
    list[i] = other;
    list[j] = held;
  }
}

class PairSearch {
  readonly chosen: number[];
  private readonly onSpool: number[][];
  private waiting: number[];

  constructor(
    private readonly problem: SpoolProblem,
    start: SpoolAssignment,
    private readonly random: Random,
  ) {
    this.chosen = problem.runs.map((_, i) => start[i] ?? -1);
    this.onSpool = problem.spools.map(() => []);
    this.waiting = [];
    for (const [i, at] of this.chosen.entries()) (this.onSpool[at] ?? this.waiting).push(i);
  }

  /** Parts the runs of two spools in the best way. @returns whether that changed anything */
  partAnew(a: number, b: number): boolean {
    const { runs, spools } = this.problem;
    const [first, second] = [spools[a], spools[b]];
    if (!first || !second) return false;
    const able = (i: number): boolean => {
      const run = runs[i];
      return run !== undefined && (mayTake(run, first) || mayTake(run, second));
    };
    const waiting = this.waiting.filter(able).slice(0, MOST_WAITING);
    const own = [...(this.onSpool[a] ?? []), ...(this.onSpool[b] ?? [])];
    if (own.length + waiting.length === 0) return false;
    const free = [...own];
    shuffle(free, this.random);
    const fixed = free.splice(MOST_PARTED - waiting.length);
    const parting = new Parting(this.problem, this.chosen, [a, b], fixed, [...waiting, ...free]);
    const answer = parting.best();
    if (!answer) return false;
    for (const [i, at] of answer) this.move(i, at);
    return answer.some(([, at], k) => at !== parting.before[k]);
  }

  /** Each order that asks for one lot, put on the spools of another lot as a whole where that is better. */
  moveOrders(): boolean {
    const { runs, spools } = this.problem;
    const orders = new Map<string, number[]>();
    for (const [i, { oneLotFor }] of runs.entries()) {
      if (oneLotFor !== null) orders.set(oneLotFor, [...(orders.get(oneLotFor) ?? []), i]);
    }
    let changed = false;
    for (const own of orders.values()) {
      for (const lot of new Set(spools.map((spool) => spool.lot))) {
        const next = this.chosen.slice();
        for (const i of own) next[i] = -1;
        for (const i of own) {
          const at = spools.findIndex((spool, k) => {
            if (spool.lot !== lot) return false;
            next[i] = k;
            const fits = scoreOf(this.problem, next) !== undefined;
            next[i] = -1;
            return fits;
          });
          if (at >= 0) next[i] = at;
        }
        const [before, after] = [scoreOf(this.problem, this.chosen), scoreOf(this.problem, next)];
        if (!before || !after || compareScores(after, before) >= 0) continue;
        for (const i of own) this.move(i, next[i] ?? -1);
        changed = true;
      }
    }
    return changed;
  }

  private move(i: number, at: number): void {
    const from = this.chosen[i] ?? -1;
    if (from === at) return;
    const left = this.onSpool[from] ?? this.waiting;
    left.splice(left.indexOf(i), 1);
    (this.onSpool[at] ?? this.waiting).push(i);
    this.chosen[i] = at;
  }
}

/** All ways to part some runs between two spools, or to leave those without one that had none. */
class Parting {
  readonly before: readonly number[];
  private readonly needMm: [number, number] = [0, 0];
  /** By printer, how many of its runs are on each of the two. */
  private readonly printers = [new Map<string, number>(), new Map<string, number>()] as const;
  private readonly lots = new Map<string, { lot: string; count: number }>();
  private readonly now: number[];
  private found: { readonly part: Part; readonly to: readonly number[] } | undefined;

  constructor(
    private readonly problem: SpoolProblem,
    chosen: readonly number[],
    private readonly pair: readonly [number, number],
    fixed: readonly number[],
    private readonly free: readonly number[],
  ) {
    this.before = free.map((i) => chosen[i] ?? -1);
    this.now = free.map(() => -1);
    const parted = new Set(free);
    for (const [i, run] of problem.runs.entries()) {
      const lot = problem.spools[chosen[i] ?? -1]?.lot;
      if (run.oneLotFor !== null && lot !== undefined && !parted.has(i)) this.countLot(run.oneLotFor, lot, 1);
    }
    for (const i of fixed) {
      const side = chosen[i] === pair[0] ? 0 : 1;
      this.take(side, i, 1);
    }
  }

  best(): readonly (readonly [number, number])[] | undefined {
    const before = this.partOf(this.before);
    this.part(0, 0);
    const { found } = this;
    if (!found || (before && !isBetterPart(found.part, before))) return undefined;
    return this.free.map((i, k) => [i, found.to[k] ?? -1] as const);
  }

  /** As it stands. */
  private partOf(to: readonly number[]): Part | undefined {
    const sides = to.map((at) => this.pair.indexOf(at));
    for (const [k, side] of sides.entries()) if (side >= 0) this.take(side as 0 | 1, this.free[k] ?? -1, 1);
    const part = this.comesTo(to.filter((at) => at < 0).length);
    for (const [k, side] of sides.entries()) if (side >= 0) this.take(side as 0 | 1, this.free[k] ?? -1, -1);
    return part;
  }

  private part(k: number, without: number): void {
    if (this.found && without > this.found.part.without) return;
    const i = this.free[k];
    if (i === undefined) {
      const part = this.comesTo(without);
      if (part && (!this.found || isBetterPart(part, this.found.part))) this.found = { part, to: [...this.now] };
      return;
    }
    const run = this.problem.runs[i];
    if (!run) return;
    for (const side of [0, 1] as const) {
      const spool = this.problem.spools[this.pair[side]];
      if (!spool || !mayTake(run, spool) || this.needMm[side] + run.needMm > spool.leftMm) continue;
      const lot = run.oneLotFor === null ? undefined : this.lots.get(run.oneLotFor);
      if (lot && lot.count > 0 && lot.lot !== spool.lot) continue;
      this.take(side, i, 1);
      if (run.oneLotFor !== null) this.countLot(run.oneLotFor, spool.lot, 1);
      this.now[k] = this.pair[side];
      this.part(k + 1, without);
      this.take(side, i, -1);
      if (run.oneLotFor !== null) this.countLot(run.oneLotFor, spool.lot, -1);
    }
    this.now[k] = -1;
    this.part(k + 1, without + 1);
  }

  private take(side: 0 | 1, i: number, by: 1 | -1): void {
    const run = this.problem.runs[i];
    if (!run) return;
    this.needMm[side] += by * run.needMm;
    const counts = this.printers[side];
    const next = (counts.get(run.printerId) ?? 0) + by;
    if (next === 0) counts.delete(run.printerId);
    else counts.set(run.printerId, next);
  }

  private countLot(order: string, lot: string, by: 1 | -1): void {
    const held = this.lots.get(order);
    this.lots.set(order, { lot, count: (held?.count ?? 0) + by });
  }

  private comesTo(without: number): Part | undefined {
    let lossMinor = 0;
    let spools = 0;
    let gathered = 0;
    for (const side of [0, 1] as const) {
      const spool = this.problem.spools[this.pair[side]];
      if (!spool) return undefined;
      const needMm = this.needMm[side];
      if (this.printers[side].size === 0) {
        gathered += (spool.leftMm / 1000) ** 2;
        continue;
      }
      const use = useOf(spool, needMm, this.printers[side].keys(), this.problem.terms);
      if (!use) return undefined;
      lossMinor += use.lossMinor;
      spools += 1;
      gathered += (use.leftMm / 1000) ** 2;
    }
    return { without, lossMinor, spools, gathered };
  }
}
