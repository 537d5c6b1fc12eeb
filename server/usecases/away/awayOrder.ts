import type { AwayChange } from '../../../core/away/awayChange.ts';
import { changedFloor } from '../../../core/away/awayChange.ts';
import type { AwayWorld } from '../../../core/away/awayWorld.ts';
import type { NightChance } from '../../../core/away/nightChance.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';

/** A time away as plain data, for the workers: the floor, what is said of it, and what chance may bring. */
export interface AwayOrder {
  readonly floor: Floor;
  readonly about: Omit<AwayWorld, 'floor'>;
  readonly chance: NightChance;
  /** What it would be like if that were done. */
  readonly changes: readonly AwayChange[];
}

/** The world of an order, with its changes. @throws ChangeRefused where one names what is not there */
export function worldOf({ floor, about, changes }: AwayOrder): AwayWorld {
  return { ...about, floor: changedFloor(snapshotFor(floor), changes) };
}
