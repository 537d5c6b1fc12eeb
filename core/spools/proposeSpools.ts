import type { Random } from '../random.ts';
import { NARROWER_MM } from '../flow/startCheck.ts';
import { lineUnits } from '../schedule/lineUnits.ts';
import type { FloorSnapshot, PlanRun } from '../schedule/plan.ts';
import { type FloorPlan, planFloor } from '../schedule/planFloor.ts';
import { chooseSpools } from './chooseSpools.ts';
import {
  type ChoosableSpool,
  type SpoolAssignment,
  type SpoolProblem,
  type SpoolRun,
  type SpoolTerms,
  scoreOf,
  useOf,
} from './spoolProblem.ts';

/** The floor as its planner takes it, and what counts for its spools. */
export interface SpoolQuestion {
  readonly floor: FloorSnapshot;
  /** All that runs can be printed on, in printers and on the rack. */
  readonly spools: readonly ChoosableSpool[];
  /** Of each stock: its usable length, what an opened spool loses, and its leader. */
  readonly stocks: ReadonlyMap<string, Omit<SpoolTerms, 'loadMinor' | 'onePrinter'>>;
  readonly loadMinor: SpoolTerms['loadMinor'];
  /** Spools that a printer can't take, by printer. */
  readonly notOn: ReadonlyMap<string, ReadonlySet<string>>;
  /** Runs of an order that asks for one lot, with the order and the lot on which it was begun; null: it was not. */
  readonly oneLotFor: ReadonlyMap<string, { readonly order: string; readonly lot: string | null }>;
}

/** Runs on one spool, as they are today or as they are proposed. */
export interface SpoolLine {
  readonly spoolId: string;
  readonly runIds: readonly string[];
  readonly takenMm: number;
  readonly leftMm: number;
  /** What is left is too short to be used. */
  readonly isStub: boolean;
  readonly loads: number;
}

/** All runs of a stock on their spools. */
export interface SpoolSide {
  readonly lines: readonly SpoolLine[];
  readonly without: readonly string[];
  readonly stubMm: number;
  readonly opened: number;
  readonly loads: number;
  readonly lossMinor: number;
}

/** How the runs of one stock are printed today, and how they could be. */
export interface StockProposal {
  readonly stockId: string;
  readonly today: SpoolSide;
  readonly proposed: SpoolSide;
  /** Looked at in full: nothing is better. */
  readonly isExact: boolean;
}

export interface SpoolProposalAnswer {
  readonly stocks: readonly StockProposal[];
  /** Lines whose order changes so that the runs of a spool stand together. */
  readonly orders: readonly { readonly printerId: string; readonly runIds: readonly string[] }[];
  /** What lateness costs, by the Floor's plan. */
  readonly lateTodayMinor: number;
  readonly lateProposedMinor: number;
}

/**
 * Spools for all queued runs, stock by stock, beside what the plan of the Floor takes today. Within a line the runs of a spool are put
 * together, except where the plan says that a date would be missed by that.
 */
export function proposeSpools(
  question: SpoolQuestion,
  limits: { readonly random: Random; readonly maxSteps: number; readonly shouldStop: () => boolean },
): SpoolProposalAnswer {
  const plan = planFloor(question.floor);
  const fedFrom = spoolsOfPlan(plan);
  const queued = question.floor.printers.flatMap(({ printer, runs }) =>
    runs.flatMap((run) => (run.state === 'queued' && run.needMm > 0 ? [{ printerId: printer.id, run }] : [])),
  );
  const stocks = [...new Set(queued.map(({ run }) => run.stockId))].flatMap((stockId): StockFound[] => {
    const terms = question.stocks.get(stockId);
    if (!terms) return [];
    const own = queued.filter(({ run }) => run.stockId === stockId);
    const problem = problemOf(question, own, { ...terms, loadMinor: question.loadMinor, onePrinter: true });
    const today = asPlanned(problem, fedFrom);
    const chosen = chooseSpools(problem, [today], limits);
    return [{ stockId, problem, today, chosen: chosen.assignment, isExact: chosen.isExact }];
  });
  const meant = new Map(stocks.flatMap(({ problem, chosen }) => spoolByRun(problem, chosen)));
  const { orders, lateMinor } = ordersFor(question.floor, meant);
  return {
    stocks: stocks.map(({ stockId, problem, today, chosen, isExact }) => ({
      stockId,
      today: sideOf(problem, today),
      proposed: sideOf(problem, chosen),
      isExact,
    })),
    orders,
    lateTodayMinor: lateOf(plan),
    lateProposedMinor: lateMinor,
  };
}

interface StockFound {
  readonly stockId: string;
  readonly problem: SpoolProblem;
  readonly today: SpoolAssignment;
  readonly chosen: SpoolAssignment;
  readonly isExact: boolean;
}

const lateOf = (plan: FloorPlan): number => [...plan.lines.values()].reduce((sum, { lateMinor }) => sum + lateMinor, 0);

/** The spool that each run is printed from by the plan. */
function spoolsOfPlan(plan: FloorPlan): Map<string, string> {
  const fed = new Map<string, string>();
  for (const { events } of plan.lines.values()) {
    for (const event of events) {
      if (event.kind === 'run' && event.fed?.spoolId != null) fed.set(event.id, event.fed.spoolId);
    }
  }
  return fed;
}

function problemOf(
  { spools, notOn, oneLotFor }: SpoolQuestion,
  own: readonly { readonly printerId: string; readonly run: PlanRun }[],
  terms: SpoolTerms,
): SpoolProblem {
  const runs = own.map(({ printerId, run }): SpoolRun => {
    // A spool in another printer stays there: it is taken from the rack or from its own.
    const away = spools.filter((spool) => spool.printerId !== null && spool.printerId !== printerId);
    const { order = null, lot = null } = oneLotFor.get(run.id) ?? {};
    const ofOther = lot === null ? [] : spools.filter((spool) => spool.lot !== lot);
    return {
      id: run.id,
      printerId,
      stockId: run.stockId,
      leastWidthMm: Math.max(0, run.leastWidthMm - NARROWER_MM),
      needMm: run.needMm,
      oneLotFor: order,
      notOn: new Set([...(notOn.get(printerId) ?? []), ...[...away, ...ofOther].map(({ id }) => id)]),
    };
  });
  const [first] = own;
  return { runs, spools: spools.filter(({ stockId, leftMm }) => stockId === first?.run.stockId && leftMm > 0), terms };
}

/** As the plan has it; a run that it prints beyond the end of a spool counts as without one. */
function asPlanned(problem: SpoolProblem, fedFrom: ReadonlyMap<string, string>): SpoolAssignment {
  const chosen = problem.runs.map(() => -1);
  for (const [i, run] of problem.runs.entries()) {
    chosen[i] = problem.spools.findIndex(({ id }) => id === fedFrom.get(run.id));
    if (chosen[i] >= 0 && !scoreOf(problem, chosen)) chosen[i] = -1;
  }
  return chosen;
}

function spoolByRun({ runs, spools }: SpoolProblem, chosen: SpoolAssignment): (readonly [string, string])[] {
  return runs.flatMap(({ id }, i) => {
    const spool = spools[chosen[i] ?? -1];
    return spool ? [[id, spool.id] as const] : [];
  });
}

function sideOf(problem: SpoolProblem, chosen: SpoolAssignment): SpoolSide {
  const { runs, spools, terms } = problem;
  const lines = spools.flatMap((spool, at): SpoolLine[] => {
    const own = runs.filter((_, i) => chosen[i] === at);
    if (own.length === 0) return [];
    const needMm = own.reduce((sum, run) => sum + run.needMm, 0);
    const use = useOf(spool, needMm, new Set(own.map(({ printerId }) => printerId)), terms);
    if (!use) return [];
    const { takenMm, leftMm, loads } = use;
    return [
      { spoolId: spool.id, runIds: own.map(({ id }) => id), takenMm, leftMm, isStub: leftMm < terms.usableMm, loads },
    ];
  });
  const isOpened = (id: string): boolean => spools.find((spool) => spool.id === id)?.isUnopened === true;
  return {
    lines,
    without: runs.filter((_, i) => (chosen[i] ?? -1) < 0).map(({ id }) => id),
    stubMm: lines.reduce((sum, { leftMm, isStub }) => sum + (isStub ? leftMm : 0), 0),
    opened: lines.filter(({ spoolId }) => isOpened(spoolId)).length,
    loads: lines.reduce((sum, { loads }) => sum + loads, 0),
    lossMinor: scoreOf(problem, chosen)?.lossMinor ?? 0,
  };
}

/** Lines with the runs of each spool together, kept as they are where a date would be missed by that. */
function ordersFor(
  floor: FloorSnapshot,
  meant: ReadonlyMap<string, string>,
): { readonly orders: SpoolProposalAnswer['orders']; readonly lateMinor: number } {
  const wish = (run: PlanRun): PlanRun =>
    run.state === 'queued' && meant.has(run.id) ? { ...run, meantSpoolId: meant.get(run.id) ?? null } : run;
  let lines = floor.printers.map(({ printer, runs }) => ({ printer, runs: runs.map(wish) }));
  let lateMinor = lateOf(planFloor({ ...floor, printers: lines }));
  const orders: { printerId: string; runIds: readonly string[] }[] = [];
  for (const [i, { printer, runs }] of lines.entries()) {
    const queued = runs.filter(({ state }) => state === 'queued');
    const loaded = new Set(printer.sources.map(({ spoolId }) => spoolId));
    const together = spoolsTogether(queued, meant, loaded);
    if (together.every(({ id }, k) => id === queued[k]?.id)) continue;
    const next = lines.with(i, { printer, runs: [...runs.filter(({ state }) => state !== 'queued'), ...together] });
    const late = lateOf(planFloor({ ...floor, printers: next }));
    // A cent of rounding is no date that is missed.
    if (late > lateMinor + 0.5) continue;
    lines = next;
    lateMinor = late;
    orders.push({ printerId: printer.id, runIds: together.map(({ id }) => id) });
  }
  return { orders, lateMinor };
}

/**
 * A line in which runs of the same spool follow each other, at the place of the first of them; of one stock, those on what is
 * loaded come first. Runs with a fixed start, and what belongs together, keep to each other.
 */
export function spoolsTogether(
  queued: readonly PlanRun[],
  meant: ReadonlyMap<string, string>,
  loaded: ReadonlySet<string | null>,
): PlanRun[] {
  const groups: { readonly key: string | null; readonly stockId: string; readonly runs: PlanRun[] }[] = [];
  for (const unit of lineUnits(queued)) {
    const [first] = unit;
    if (!first) continue;
    const isFree = unit.every(({ fixedStartMs }) => fixedStartMs === null);
    const key = isFree ? (meant.get(first.id) ?? null) : null;
    const group = key === null ? undefined : groups.find((each) => each.key === key);
    if (group) group.runs.push(...unit);
    else groups.push({ key, stockId: first.stockId, runs: [...unit] });
  }
  for (const [at, group] of groups.entries()) {
    if (group.key === null || !loaded.has(group.key)) continue;
    const before = groups.findIndex(({ key, stockId }) => key !== null && stockId === group.stockId);
    if (before < at) groups.splice(before, 0, ...groups.splice(at, 1));
  }
  return groups.flatMap(({ runs }) => runs);
}
