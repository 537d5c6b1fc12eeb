import type { OutlookChannel } from '../care/outlook.ts';
import { type PurgedPlan, planWithPurges } from '../care/plannedPurges.ts';
import type { FloorSnapshot } from '../schedule/plan.ts';
import { type AwayMove, wholeRunId } from './awayChange.ts';

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
  readonly what: AwayCare['what'];
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
  /** Runs that another printer could take instead. */
  readonly moves?: readonly AwayMove[];
}

/** A plan of a time away, with the purges that work makes needless. */
export type PlannedAway = Pick<PurgedPlan, 'floor' | 'plan'>;

/** The plan of a time away: the planner of the Floor, with runs that need a hand held out while nobody is there. */
export function planAway({ floor, period, printers, runs }: AwayWorld): PlannedAway {
  return planWithPurges({ ...floor, away: period }, printers, (runId) => runs[wholeRunId(runId)]?.evenMl ?? null);
}
