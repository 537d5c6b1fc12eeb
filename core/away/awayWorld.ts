import type { OutlookChannel, PlannedFiring } from '../care/outlook.ts';
import { purgeOutlook } from '../care/outlook.ts';
import { ruledCare } from '../care/careRule.ts';
import type { FloorSnapshot, Line, PlanPrinter, PlanRun } from '../schedule/plan.ts';
import { type FloorPlan, planFloor } from '../schedule/planFloor.ts';
import { wholeRunId } from './awayChange.ts';

/** What is said of a run, and what it is worth. Money in minor units. */
export interface AwayRun {
  readonly name: string;
  readonly pieces: number;
  readonly jobs: readonly string[];
  /** What its pieces bring when they are printed good. */
  readonly valueMinor: number;
  /** Media, ink and machine time. */
  readonly costMinor: number;
  /** Ink that every column across the media gets; null: all of it. */
  readonly evenMl: Readonly<Record<string, number>> | null;
}

/** What is said of care. */
export interface AwayCare {
  readonly title: string;
  readonly what: 'purge' | 'check' | 'clean' | 'stir' | 'feed' | 'release';
  /** A purge of a timer: work may make it needless. */
  readonly skippable: boolean;
  readonly onlyNeeded: boolean;
}

export interface AwayChannel extends OutlookChannel {
  readonly name: string;
  readonly colour: string;
  readonly tankMl: number;
}

export interface AwayPrinter {
  readonly id: string;
  readonly name: string;
  readonly ratePerHourMinor: number;
  readonly sources: readonly { readonly id: string; readonly name: string }[];
  readonly channels: readonly AwayChannel[];
  /** By id. */
  readonly care: Readonly<Record<string, AwayCare>>;
  /** Care that rules put before runs. */
  readonly rules: readonly { readonly id: string; readonly title: string; readonly what: AwayCare['what'] }[];
}

/** Care that its timer leaves out on a holiday. */
export interface HolidayCare {
  readonly id: string;
  readonly printerId: string;
  readonly title: string;
  readonly atMs: number;
}

/** A shop as its plan for a time away is made: plain data but for the floor. */
export interface AwayWorld {
  readonly floor: FloorSnapshot;
  readonly period: { readonly fromMs: number; readonly toMs: number };
  readonly printers: Readonly<Record<string, AwayPrinter>>;
  readonly runs: Readonly<Record<string, AwayRun>>;
  readonly spools: Readonly<Record<string, { readonly label: string; readonly colour: string }>>;
  readonly stocks: Readonly<Record<string, string>>;
  readonly holidays: readonly HolidayCare[];
}

/** A plan of a time away, with the purges that work makes needless. */
export interface PlannedAway {
  /** Purges that are skipped take nothing in it. */
  readonly floor: FloorSnapshot;
  readonly plan: FloorPlan;
}

/** So often it is planned anew, at most, until skipped purges and work agree. */
const MOST_ROUNDS = 4;

/**
 * The plan of a time away: the planner of the Floor, with runs that need a hand held out while nobody is there. A purge is skipped
 * where work exercises its channels, and takes no time and media then, which may move that work: it is planned until both agree.
 */
export function planAway(world: AwayWorld): PlannedAway {
  let floor: FloorSnapshot = { ...world.floor, away: world.period };
  let plan = planFloor(floor);
  let known = '';
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    const skipped = skippedPurges(world, floor, plan);
    const key = [...skipped].sort().join(' ');
    if (key === known) break;
    known = key;
    floor = withSkipped(floor, skipped);
    plan = planFloor(floor);
  }
  return { floor, plan };
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

/** Purges that work makes needless, on all printers. */
function skippedPurges(world: AwayWorld, floor: FloorSnapshot, { lines }: FloorPlan): Set<string> {
  const skipped = new Set<string>();
  for (const { printer, runs } of floor.printers) {
    const about = world.printers[printer.id];
    const line = lines.get(printer.id);
    if (!about || !line || !Object.values(about.care).some(({ skippable }) => skippable)) continue;
    const firings = firingsOf(world, about, line, printer, runs);
    for (const [id, { fires }] of purgeOutlook(about.channels, firings)) if (fires.length === 0) skipped.add(id);
  }
  return skipped;
}

/** What the plan of a line fires, in the order of time. */
function firingsOf(
  { runs: about }: AwayWorld,
  { care: careAbout }: AwayPrinter,
  line: Line,
  { care, careRules }: PlanPrinter,
  runs: readonly PlanRun[],
): PlannedFiring[] {
  const firings = line.events.flatMap((event): PlannedFiring[] => {
    if (event.kind === 'run') {
      const run = runs.find(({ id, endedMs }) => id === event.id && endedMs === null);
      const even = about[wholeRunId(event.id)]?.evenMl;
      return run ? [{ id: event.id, atMs: event.toMs, inkMl: even ?? run.inkMl, purge: null }] : [];
    }
    if (event.kind !== 'care' || event.lacks !== null) return [];
    const planned = care.find(({ id }) => id === event.id);
    const { inkMl } = planned ?? ruledCare(careRules, event.id)?.rule ?? { inkMl: {} };
    const { skippable = false, onlyNeeded = false } = careAbout[event.id] ?? {};
    // Whether it is needed is asked when it begins: when it is due, or sooner where it goes before a run.
    const dueMs = Math.min(event.fromMs, planned?.fromMs ?? event.fromMs);
    return [{ id: event.id, atMs: event.toMs, inkMl, purge: skippable ? { dueMs, onlyNeeded } : null }];
  });
  return firings.sort((a, b) => a.atMs - b.atMs);
}
