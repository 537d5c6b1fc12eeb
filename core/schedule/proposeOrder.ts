import { type CompiledFloor, type CompiledRun, compileFloor } from './compiledFloor.ts';
import { lineUnits } from './lineUnits.ts';
import { planCompiled, planOrder } from './planFloor.ts';
import type { FloorSnapshot, Line, PlanRun } from './plan.ts';

/** The line that is to be put in order, on its floor. */
export interface OrderQuestion {
  readonly floor: FloorSnapshot;
  readonly printerId: string;
  readonly ratePerHourMinor: number;
}

export interface OrderCost {
  readonly lateMinor: number;
  readonly changeOverMin: number;
  readonly freeMs: number;
  /** What the order is judged by (minor units): lateness + change-overs at the machine's rate, then when it is done. */
  readonly totalMinor: number;
}

export interface OrderAnswer {
  readonly order: readonly string[];
  readonly today: OrderCost;
  readonly proposed: OrderCost;
}

/** A minute earlier free breaks ties, and no more. */
const FREE_MINOR_PER_H = 1;

/**
 * What an order of a line costs: lateness by its price, change-overs at the rate of the machine, and a little for
 * each hour until it is free (minor units).
 */
export function costOf(line: Line, ratePerHourMinor: number, nowMs: number): OrderCost {
  const { lateMinor, changeOverMin, freeMs } = line;
  const idle = ((freeMs - nowMs) / 3_600_000) * FREE_MINOR_PER_H;
  return { lateMinor, changeOverMin, freeMs, totalMinor: lateMinor + (changeOverMin / 60) * ratePerHourMinor + idle };
}

/**
 * An order of the queued runs of one printer with less lateness and fewer change-overs; fixed starts and unattended hours
 * hold as in the plan itself, and what belongs together (front and back, segments) stays together. Starts from today's order,
 * from due dates, and from stock by stock, then moves units and blocks of them while that pays, with kicks between. The search
 * leaves to the other printers the spools that they take today; what it finds is then planned with all of them, and is taken
 * only where it is better there. Never worse than today's order.
 * @param evaluations plans that may be made; with the same random source the answer is the same
 * @throws where the floor has no such printer
 */
export function proposeOrder(
  { floor, printerId, ratePerHourMinor }: OrderQuestion,
  random: () => number,
  evaluations = 3000,
  shouldStop: () => boolean = () => false,
): OrderAnswer {
  const whole = compileFloor(floor);
  const lineAt = whole.lines.findIndex(({ printer }) => printer.id === printerId);
  const line = whole.lines[lineAt];
  if (!line) throw new Error(`there is no printer ${printerId} on the floor`);
  const planned = (queued: readonly CompiledRun[]): { readonly cost: OrderCost; readonly othersMinor: number } => {
    const lines = whole.lines.map((each, i) => (i === lineAt ? { ...each, queued } : each));
    const plan = planCompiled({ ...whole, lines });
    let othersMinor = 0;
    for (const [id, other] of plan.lines) if (id !== printerId) othersMinor += other.lateMinor;
    return { cost: costOf(plan.lines.get(printerId) as Line, ratePerHourMinor, floor.nowMs), othersMinor };
  };
  const today = planned(line.queued);
  const alone = withoutOthers(whole, floor, printerId);
  const units: Unit[] = lineUnits(
    line.queued.map((compiled) => ({ id: compiled.run.id, together: compiled.run.together, compiled })),
  ).map((unit) => unitOf(unit.map(({ compiled }) => compiled)));
  let left = evaluations;
  const judge = (order: readonly Unit[]): OrderCost => {
    left -= 1;
    const queued = order.flatMap(({ runs }) => runs);
    return costOf(planOrder(alone, 0, queued), ratePerHourMinor, floor.nowMs);
  };
  const done = (): boolean => left <= 0 || shouldStop();
  let best = { order: units, cost: judge(units) };
  for (const start of [units, byDue(units), byStock(units)]) {
    if (done()) break;
    const found = descend(start, judge, random, done);
    if (found.cost.totalMinor < best.cost.totalMinor - 1e-9) best = found;
  }
  while (!done() && units.length > 2) {
    const found = descend(shaken(best.order, random), judge, random, done);
    if (found.cost.totalMinor < best.cost.totalMinor - 1e-9) best = found;
  }
  const order = best.order.flatMap(({ runs }) => runs);
  const proposed = planned(order);
  const better =
    proposed.cost.totalMinor + proposed.othersMinor < today.cost.totalMinor + today.othersMinor - 1e-9 &&
    proposed.cost.totalMinor <= today.cost.totalMinor;
  const taken = better ? order : line.queued;
  return {
    order: taken.map(({ run }) => run.id),
    today: today.cost,
    proposed: better ? proposed.cost : today.cost,
  };
}

/** The floor with one line alone, and on the rack what the others leave. */
function withoutOthers(whole: CompiledFloor, floor: FloorSnapshot, printerId: string): CompiledFloor {
  const gone = new Set<string>();
  for (const [id, { events }] of planCompiled(whole).lines) {
    if (id === printerId) continue;
    for (const event of events) if (event.kind === 'change-over' && event.spoolId !== null) gone.add(event.spoolId);
  }
  const printers = floor.printers.filter(({ printer }) => printer.id === printerId);
  return compileFloor({ ...floor, printers, rack: floor.rack.filter(({ id }) => !gone.has(id)) }, whole.stocks);
}

/** What is moved as one. */
interface Unit {
  readonly runs: readonly CompiledRun[];
  readonly first: PlanRun;
  readonly dueMs: number;
}

function unitOf(runs: readonly CompiledRun[]): Unit {
  const [first] = runs;
  if (!first) throw new Error('a unit without runs');
  const dueMs = Math.min(Infinity, ...runs.flatMap(({ run }) => run.dues.map((due) => due.dueMs)));
  return { runs, first: first.run, dueMs };
}

interface Candidate {
  readonly order: Unit[];
  readonly cost: OrderCost;
}

function byDue(units: readonly Unit[]): Unit[] {
  return [...units].sort((a, b) => (a.dueMs === b.dueMs ? 0 : a.dueMs - b.dueMs));
}

/** Stock by stock and mode by mode, the group with the earliest due date first. */
function byStock(units: readonly Unit[]): Unit[] {
  const key = ({ first: { stockId, modeId } }: Unit): string => `${stockId}/${modeId}`;
  const earliest = new Map<string, number>();
  for (const unit of units) earliest.set(key(unit), Math.min(earliest.get(key(unit)) ?? Infinity, unit.dueMs));
  return byDue(units).sort((a, b) => {
    if (key(a) === key(b)) return 0;
    const apart = (earliest.get(key(a)) ?? Infinity) - (earliest.get(key(b)) ?? Infinity);
    return Number.isNaN(apart) || apart === 0 ? (key(a) < key(b) ? -1 : 1) : apart;
  });
}

/** Takes one to three neighbours to another place wherever that pays, until nothing does. */
function descend(
  start: readonly Unit[],
  judge: (order: readonly Unit[]) => OrderCost,
  random: () => number,
  done: () => boolean,
): Candidate {
  let order = [...start];
  let cost = judge(order);
  for (let better = true; better && !done();) {
    better = false;
    for (const [from, size] of shuffled(movesOf(order.length), random)) {
      const block = order.slice(from, from + size);
      const rest = [...order.slice(0, from), ...order.slice(from + size)];
      for (let to = 0; to <= rest.length && !done(); to += 1) {
        if (to === from) continue;
        const next = [...rest.slice(0, to), ...block, ...rest.slice(to)];
        const nextCost = judge(next);
        if (nextCost.totalMinor < cost.totalMinor - 1e-9) {
          order = next;
          cost = nextCost;
          better = true;
          break;
        }
      }
      if (done()) break;
      if (better) break;
    }
  }
  return { order, cost };
}

function movesOf(n: number): [from: number, size: number][] {
  const moves: [number, number][] = [];
  for (const size of [1, 2, 3]) for (let from = 0; from + size <= n; from += 1) if (size < n) moves.push([from, size]);
  return moves;
}

/** Three random runs go to random places. */
function shaken(order: readonly Unit[], random: () => number): Unit[] {
  const next = [...order];
  for (let i = 0; i < 3; i += 1) {
    const [run] = next.splice(Math.floor(random() * next.length), 1);
    if (run) next.splice(Math.floor(random() * (next.length + 1)), 0, run);
  }
  return next;
}

function shuffled<T>(items: T[], random: () => number): T[] {
  for (let i = items.length - 1; i > 0; i -= 1) {
    const j = Math.floor(random() * (i + 1));
    const [a, b] = [items[i], items[j]];
    if (a !== undefined && b !== undefined) [items[i], items[j]] = [b, a];
  }
  return items;
}
