import type { RunItem, SpoolView } from '../../../contract/api/floor.ts';
import type { FloorSnapshot } from '../../../core/schedule/plan.ts';
import { type FloorPlan, planFloor } from '../../../core/schedule/planFloor.ts';
import { snapshotOf } from '../../../core/schedule/planInput.ts';
import { Attendance, type TimeSpan } from '../../../core/schedule/shopHours.ts';
import type { TicketPart } from '../../../core/ticket/ticket.ts';
import type { CaredPrinter } from '../../db/printerViews.ts';
import type { queues } from '../../db/tables/schema.ts';
import type { stocks } from '../../db/tables/floorTables.ts';

type StockRow = typeof stocks.$inferSelect;

/** The floor at one moment, as plain data: what plans, fits and orders are worked out from. */
export interface Floor {
  readonly printers: readonly CaredPrinter[];
  readonly spools: readonly SpoolView[];
  readonly runs: readonly RunItem[];
  readonly queues: readonly (typeof queues.$inferSelect)[];
  /** By id. */
  readonly stocks: Readonly<Record<string, StockRow>>;
  /** What tickets get from a stock on a printer, by `printer/stock`. */
  readonly runSettings: Readonly<Record<string, TicketPart>>;
  /** When somebody is there. */
  readonly spans: readonly TimeSpan[];
  /** The time away that is armed: while nobody is there within it, runs that need a hand are held out. */
  readonly away: TimeSpan | null;
  readonly nowMs: number;
  /** ISO code of the money. */
  readonly currency: string;
}

/** The floor as its planner takes it. */
export function snapshotFor({ printers, runs, spools, spans, away, nowMs }: Floor): FloorSnapshot {
  const inLine = runs.filter(({ state }) => state !== 'draft');
  return { ...snapshotOf(printers, inLine, spools, new Attendance(spans), nowMs), away };
}

/** A floor with the plan of its lines, made once for all questions that ask for the same. */
export class PlannedFloor {
  private readonly plans = new Map<string, FloorPlan>();

  constructor(readonly floor: Floor) {}

  /** The plan with everything in its line. */
  get plan(): FloorPlan {
    return this.without('');
  }

  /** The plan as if one run were not in its line. */
  without(runId: string): FloorPlan {
    const known = this.plans.get(runId);
    if (known) return known;
    const runs = this.floor.runs.filter(({ id }) => id !== runId);
    const plan = planFloor(snapshotFor({ ...this.floor, runs }));
    this.plans.set(runId, plan);
    return plan;
  }
}

/** The queue through which jobs go to a printer: the one that gives their stock, else the first. */
export function queueFor(floor: Pick<Floor, 'queues'>, printerId: string, stockId: string): string | undefined {
  const own = floor.queues.filter((queue) => queue.printerId === printerId);
  return (own.find((queue) => queue.settings.stockId === stockId) ?? own[0])?.id;
}
