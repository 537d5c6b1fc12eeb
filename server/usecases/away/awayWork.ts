import { awayEvents, awayFigures } from '../../../core/away/awayEvents.ts';
import { awaySupplies } from '../../../core/away/awaySupplies.ts';
import { planAway } from '../../../core/away/awayWorld.ts';
import { type AwayAction, beforeYouGo } from '../../../core/away/beforeYouGo.ts';
import { type Driver, driversOf, nightsOf, wantedRuns } from '../../../core/away/drivers.ts';
import type { AwayEvent, AwayFigures } from '../../../core/away/awayEvents.ts';
import type { SupplyTrack } from '../../../core/away/awaySupplies.ts';
import { type AwayOrder, worldOf } from './awayOrder.ts';

/** A plan without chance: plain data. */
export interface AwayPlanAnswer {
  readonly events: AwayEvent[];
  readonly supplies: SupplyTrack[];
  readonly figures: AwayFigures;
  readonly before: AwayAction[];
  /** Runs that it says are done. */
  readonly wanted: string[];
}

/** The plan of a time away, with what could be done before it. @throws ChangeRefused */
export function awayPlanOf(order: AwayOrder): AwayPlanAnswer {
  const world = worldOf(order);
  const planned = planAway(world);
  const events = awayEvents(world, planned);
  return {
    events,
    supplies: awaySupplies(world, planned),
    figures: awayFigures(world, planned, events),
    before: beforeYouGo(world, planned, events),
    wanted: wantedRuns(world, planned),
  };
}

/** Some nights of a plan. */
export interface NightsOrder {
  readonly order: AwayOrder;
  readonly from: number;
  readonly count: number;
  readonly seed: number;
}

/** What nights came to: sums, so that parts can be put together. */
export interface NightsAnswer {
  readonly nights: number;
  readonly all: number;
  readonly byRun: Readonly<Record<string, number>>;
  /** What each night brought (minor units). */
  readonly worth: readonly number[];
}

export function awayNightsOf({ order, ...which }: NightsOrder, tell: (share: number) => void): NightsAnswer {
  const { plan, runIds, succeeded, worth } = nightsOf(worldOf(order), order.chance, which, { told: tell });
  const count = (nights: Uint8Array | undefined): number => nights?.reduce((sum, each) => sum + each, 0) ?? 0;
  return {
    nights: which.count,
    all: count(plan),
    byRun: Object.fromEntries(runIds.map((id, i) => [id, count(succeeded[i])])),
    worth: [...worth],
  };
}

/** The question which actions help most. */
export interface DriversOrder {
  readonly order: AwayOrder;
  readonly seed: number;
}

export function awayDriversOf({ order, seed }: DriversOrder, tell: (share: number) => void): Driver[] {
  const world = worldOf(order);
  const planned = planAway(world);
  const actions = beforeYouGo(world, planned, awayEvents(world, planned));
  return driversOf(world, order.chance, actions, seed, tell);
}
