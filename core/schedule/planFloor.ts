import {
  type CompiledFloor,
  type CompiledLine,
  type CompiledRun,
  type Rack,
  compileFloor,
  compileRun,
} from './compiledFloor.ts';
import { LinePlan, type Shared } from './linePlan.ts';
import type { Luck } from './luck.ts';
import type { FloorSnapshot, Line, PlanRun } from './plan.ts';

/** The plan of all lines, and what would come behind each. */
export interface FloorPlan {
  /** By printer. */
  readonly lines: ReadonlyMap<string, Line>;
  /**
   * What these runs come to behind a printer's line: exactly what a plan of the floor with them at its end says of them. Other
   * printers take from the rack before them what they take before their time.
   * @throws where the floor has no such printer
   */
  readonly behind: (printerId: string, runs: readonly PlanRun[]) => Line;
}

/**
 * When the runs of all printers were, are and will be printed, with everything between them: the present run of each to its
 * promised end (never before now), then the queued ones in their order; change-overs, emptied baskets and turned media only
 * while somebody is there, runs that need a hand within attended hours, care before the run that would start then. All printers
 * take from one rack, in the order of time.
 */
export function planFloor(snapshot: FloorSnapshot): FloorPlan {
  return planCompiled(compileFloor(snapshot));
}

/** A line that is planned to its end, and the rack as the next run in it would find it. */
interface Tail {
  readonly plan: LinePlan;
  readonly rack: Rack;
}

/**
 * The plan of a floor that is compiled already.
 * @param luck what chance makes of its times
 */
export function planCompiled(floor: CompiledFloor, luck?: Luck): FloorPlan {
  const shared = { ...sharedOf(floor), ...(luck ? { luck } : {}) };
  const rack = floor.rack.copy();
  const plans = floor.lines.map((line) => new LinePlan(line, line.queued, shared, rack));
  const tails = new Map<string, Tail>();
  const open = new Set(plans.keys());
  while (open.size > 0) {
    // Who is free first takes from the rack first.
    let first = -1;
    let firstMs = Infinity;
    for (const i of open) {
      const { freeMs } = plans[i] as LinePlan;
      if (freeMs < firstMs || first < 0) [first, firstMs] = [i, freeMs];
    }
    const plan = plans[first] as LinePlan;
    if (!plan.done) {
      plan.step();
      continue;
    }
    open.delete(first);
    const id = floor.lines[first]?.printer.id ?? '';
    tails.set(id, { plan, rack: rack.copy() });
  }
  return {
    lines: new Map(floor.lines.map(({ printer }, i) => [printer.id, (plans[i] as LinePlan).result()])),
    behind: (printerId, runs) => {
      const tail = tails.get(printerId);
      const line = floor.lines.find(({ printer }) => printer.id === printerId);
      if (!tail || !line) throw new Error(`there is no printer ${printerId} on the floor`);
      const compiled = runs.map((run) => compileRun(run, line.channelIds, floor.stocks));
      return tail.plan.chose || runs.length > 1
        ? behindAnew(floor, line, compiled, tail.plan.result())
        : tail.plan.copy().append(compiled, tail.rack.copy());
    },
  };
}

/**
 * All of it is planned anew: with runs at its end a line that chooses among sources may load them otherwise, and between several
 * runs other lines take from the rack and put back.
 */
function behindAnew(floor: CompiledFloor, line: CompiledLine, added: readonly CompiledRun[], without: Line): Line {
  const longer = { ...line, queued: [...line.queued, ...added] };
  const { lines } = planCompiled({ ...floor, lines: floor.lines.map((each) => (each === line ? longer : each)) });
  const whole = lines.get(line.printer.id) ?? without;
  const ids = new Set(added.map(({ run }) => run.id));
  const own = ({ events, shortages, ...rest }: Line): Line => ({
    ...rest,
    events: events.filter((event) => ids.has(event.kind === 'run' ? event.id : 'runId' in event ? event.runId : '')),
    shortages: shortages.filter(({ runId }) => ids.has(runId)),
  });
  return {
    ...own(whole),
    changeOverMin: whole.changeOverMin - without.changeOverMin,
    lateMinor: whole.lateMinor - without.lateMinor,
  };
}

/** The plan of one line alone, in another order: for searches that ask thousands of times. */
export function planOrder(floor: CompiledFloor, lineAt: number, queued: readonly CompiledRun[]): Line {
  const line = floor.lines[lineAt];
  if (!line) throw new Error(`the floor has no line ${String(lineAt)}`);
  const plan = new LinePlan(line, queued, sharedOf(floor), floor.rack.copy());
  while (!plan.done) plan.step();
  return plan.result();
}

function sharedOf({ attendance, nowMs, stocks, away }: CompiledFloor): Shared {
  return { attendance, nowMs, stocks, away };
}
