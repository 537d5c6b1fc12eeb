import type { FloorSnapshot, PlanRun } from './plan.ts';
import { planFloor } from './planFloor.ts';

/** The floor with a run in one of its lines. */
export interface BestPlace {
  readonly snapshot: FloorSnapshot;
  /** When the run begins and ends there by the plan. */
  readonly startMs: number;
  readonly endMs: number;
  /** Runs that wait before it. */
  readonly behind: number;
}

/** Half a minor unit is no money. */
const NO_MONEY = 0.5;

/**
 * The earliest place in a printer's line at which a run makes no other run late, nor one that is late any later; at the end where there is no
 * such place. Runs that stay together are not parted.
 * @param run as `plannedWork` makes it; its own dates say nothing of where it may stand
 * @returns undefined where even at the end the plan has no time for it
 */
export function bestPlace(snapshot: FloorSnapshot, printerId: string, run: PlanRun): BestPlace | undefined {
  const own = snapshot.printers.find(({ printer }) => printer.id === printerId);
  if (!own) return undefined;
  const undated = { ...run, dues: [] };
  const queued = own.runs.filter(({ state }) => state === 'queued');
  const lateness = lateMinor(snapshot);
  for (let behind = 0; behind <= queued.length; behind += 1) {
    const [before, next] = [queued[behind - 1], queued[behind]];
    if (before && next && before.together !== null && before.together === next.together) continue;
    const at = next ? own.runs.indexOf(next) : own.runs.length;
    const runs = [...own.runs.slice(0, at), undated, ...own.runs.slice(at)];
    const tried = {
      ...snapshot,
      printers: snapshot.printers.map((each) => (each === own ? { ...own, runs } : each)),
    };
    const { lines } = planFloor(tried);
    const sum = [...lines.values()].reduce((all, line) => all + line.lateMinor, 0);
    if (next && sum > lateness + NO_MONEY) continue;
    const event = lines.get(printerId)?.events.find((each) => each.kind === 'run' && each.id === run.id);
    return event && { snapshot: tried, startMs: event.fromMs, endMs: event.toMs, behind };
  }
  return undefined;
}

function lateMinor(snapshot: FloorSnapshot): number {
  return [...planFloor(snapshot).lines.values()].reduce((sum, line) => sum + line.lateMinor, 0);
}
