import type { FloorSnapshot, Line, PlanCare, PlanPrinter, PlanRun } from '../schedule/plan.ts';
import { type FloorPlan, planFloor } from '../schedule/planFloor.ts';
import { ruledCare } from './careRule.ts';
import { type OutlookChannel, type PlannedFiring, purgeOutlook } from './outlook.ts';

/** What decides which purges of a printer work makes needless. */
export interface PurgedPrinter {
  readonly channels: readonly OutlookChannel[];
  /** By id: purges of timers can be skipped. */
  readonly care: Readonly<Record<string, { readonly skippable: boolean; readonly onlyNeeded: boolean }>>;
}

/** Of a run on a page-wide array, what every column across the media gets (ml); null: all of its ink. */
export type EvenMl = (runId: string) => Readonly<Record<string, number>> | null;

/** A plan with the purges that work makes needless. */
export interface PurgedPlan {
  /** Those purges are marked as skipped in it. */
  readonly floor: FloorSnapshot;
  readonly plan: FloorPlan;
  /** Ids of the purges that are skipped. */
  readonly skipped: ReadonlySet<string>;
}

/** So often it is planned anew, at most, until skipped purges and work agree. */
const MOST_ROUNDS = 4;

/**
 * The plan of the floor, in which a purge is skipped where work exercises its channels. One that is skipped takes no time and no
 * media, which may move the work and leave media for others: it is planned until both agree.
 * @param about by printer; one that is left out skips nothing
 */
export function planWithPurges(
  floor: FloorSnapshot,
  about: Readonly<Record<string, PurgedPrinter>>,
  evenMl: EvenMl,
): PurgedPlan {
  let marked = floor;
  let plan = planFloor(floor);
  let skipped: ReadonlySet<string> = new Set();
  let known = idsOf(floor);
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    // What lacks its media may have it once those before it are skipped: it counts in the first round.
    skipped = skippedPurges(marked, plan, about, evenMl, round === 0);
    const key = [...skipped].sort().join(' ');
    if (key === known) break;
    known = key;
    marked = withSkipped(floor, skipped);
    plan = planFloor(marked);
  }
  return { floor: marked, plan, skipped };
}

/** What a floor has marked already. */
function idsOf({ printers }: FloorSnapshot): string {
  const ids = printers.flatMap(({ printer }) => printer.care.filter(({ skipped }) => skipped === true));
  return ids
    .map(({ id }) => id)
    .sort()
    .join(' ');
}

function withSkipped(floor: FloorSnapshot, skipped: ReadonlySet<string>): FloorSnapshot {
  return {
    ...floor,
    printers: floor.printers.map(({ printer, runs }) => ({
      printer: { ...printer, care: printer.care.map((care) => ({ ...care, skipped: skipped.has(care.id) })) },
      runs,
    })),
  };
}

function skippedPurges(
  floor: FloorSnapshot,
  { lines }: FloorPlan,
  about: Readonly<Record<string, PurgedPrinter>>,
  evenMl: EvenMl,
  countsLacking: boolean,
): Set<string> {
  const skipped = new Set<string>();
  for (const { printer, runs } of floor.printers) {
    const own = about[printer.id];
    const line = lines.get(printer.id);
    if (!own || !line || !Object.values(own.care).some(({ skippable }) => skippable)) continue;
    const firings = plannedFirings(own, line, { ...printer, runs }, evenMl, countsLacking);
    for (const [id, { fires }] of purgeOutlook(own.channels, firings)) if (fires.length === 0) skipped.add(id);
  }
  return skipped;
}

/** What is planned on a printer, as far as it decides what fires. */
export interface FiringLine {
  readonly care: readonly Pick<PlanCare, 'id' | 'fromMs' | 'inkMl'>[];
  readonly careRules: PlanPrinter['careRules'];
  readonly runs: readonly Pick<PlanRun, 'id' | 'endedMs' | 'inkMl'>[];
}

/**
 * What the plan of a line fires, in the order of time.
 * @param countsLacking whether care that can't be printed counts as if it could
 */
export function plannedFirings(
  { care: about }: Pick<PurgedPrinter, 'care'>,
  { events }: Pick<Line, 'events'>,
  { care, careRules, runs }: FiringLine,
  evenMl: EvenMl,
  countsLacking = false,
): PlannedFiring[] {
  const open = new Map(runs.filter(({ endedMs }) => endedMs === null).map((run) => [run.id, run]));
  const planned = new Map(care.map((each) => [each.id, each]));
  const firings = events.flatMap((event): PlannedFiring[] => {
    if (event.kind === 'run') {
      const run = open.get(event.id);
      return run ? [{ id: event.id, atMs: event.toMs, inkMl: evenMl(event.id) ?? run.inkMl, purge: null }] : [];
    }
    if (event.kind !== 'care' || (event.lacks !== null && !countsLacking)) return [];
    const own = planned.get(event.id);
    const { inkMl } = own ?? ruledCare(careRules, event.id)?.rule ?? { inkMl: {} };
    const { skippable = false, onlyNeeded = false } = about[event.id] ?? {};
    // Whether it is needed is asked when it begins: when it is due, or sooner where it goes before a run.
    const dueMs = Math.min(event.fromMs, own?.fromMs ?? event.fromMs);
    return [{ id: event.id, atMs: event.toMs, inkMl, purge: skippable ? { dueMs, onlyNeeded } : null }];
  });
  return firings.sort((a, b) => a.atMs - b.atMs);
}
