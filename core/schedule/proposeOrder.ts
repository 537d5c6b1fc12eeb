import { type Line, type PlanPrinter, type PlanRun, type RackSpool, planLine } from './planLine.ts';
import type { Attendance } from './shopHours.ts';

export interface OrderQuestion {
  /** All runs of the printer, in today's order. */
  readonly runs: readonly PlanRun[];
  readonly printer: PlanPrinter;
  readonly ratePerHourMinor: number;
  readonly rack: readonly RackSpool[];
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
 * hold as in the plan itself. Starts from today's order, from due dates, and from stock by stock, then moves runs and
 * blocks of runs while that pays, with kicks between. Never worse than today's order.
 * @param evaluations plans that may be made; with the same random source the answer is the same
 */
export function proposeOrder(
  question: OrderQuestion,
  attendance: Attendance,
  nowMs: number,
  random: () => number,
  evaluations = 3000,
  shouldStop: () => boolean = () => false,
): OrderAnswer {
  const queued = question.runs.filter((run) => run.state === 'queued');
  const others = question.runs.filter((run) => run.state !== 'queued' && run.endedMs === null);
  let left = evaluations;
  const judge = (order: readonly PlanRun[]): OrderCost => {
    left -= 1;
    const line = planLine([...others, ...order], question.printer, question.rack, attendance, nowMs);
    return costOf(line, question.ratePerHourMinor, nowMs);
  };
  const today = judge(queued);
  const done = (): boolean => left <= 0 || shouldStop();
  let best = { order: queued, cost: today };
  for (const start of [queued, byDue(queued), byStock(queued)]) {
    if (done()) break;
    const found = descend(start, judge, random, done);
    if (found.cost.totalMinor < best.cost.totalMinor - 1e-9) best = found;
  }
  while (!done() && queued.length > 2) {
    const found = descend(shaken(best.order, random), judge, random, done);
    if (found.cost.totalMinor < best.cost.totalMinor - 1e-9) best = found;
  }
  return { order: best.order.map(({ id }) => id), today, proposed: best.cost };
}

interface Candidate {
  readonly order: PlanRun[];
  readonly cost: OrderCost;
}

function byDue(runs: readonly PlanRun[]): PlanRun[] {
  return [...runs].sort((a, b) => (a.dueMs ?? Infinity) - (b.dueMs ?? Infinity));
}

/** Stock by stock and mode by mode, the group with the earliest due date first. */
function byStock(runs: readonly PlanRun[]): PlanRun[] {
  const key = ({ stockId, modeId }: PlanRun): string => `${stockId}/${modeId}`;
  const earliest = new Map<string, number>();
  for (const run of runs) earliest.set(key(run), Math.min(earliest.get(key(run)) ?? Infinity, run.dueMs ?? Infinity));
  return byDue(runs).sort((a, b) => {
    if (key(a) === key(b)) return 0;
    const apart = (earliest.get(key(a)) ?? Infinity) - (earliest.get(key(b)) ?? Infinity);
    return Number.isNaN(apart) || apart === 0 ? (key(a) < key(b) ? -1 : 1) : apart;
  });
}

/** Takes one to three neighbours to another place wherever that pays, until nothing does. */
function descend(
  start: readonly PlanRun[],
  judge: (order: readonly PlanRun[]) => OrderCost,
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
function shaken(order: readonly PlanRun[], random: () => number): PlanRun[] {
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
