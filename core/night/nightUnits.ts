import type { PlanRun } from '../schedule/plan.ts';

/** A printer that can take something that waits, and what it would be there. Money in minor units. */
export interface NightOption {
  readonly printerId: string;
  readonly run: PlanRun;
  readonly costMinor: number;
}

/** Something that is printed as one: a queued run, a draft, or jobs that would go together. */
export interface NightUnit {
  readonly id: string;
  readonly name: string;
  readonly pieces: number;
  /** What its pieces bring, wherever they are printed. */
  readonly valueMinor: number;
  readonly options: readonly NightOption[];
  /** The printer in whose line it stands; null: it waits, and may be left waiting. */
  readonly standsOn: string | null;
  /** It keeps its place: a person has given it its time, or its other side comes with it. */
  readonly isFixed: boolean;
}

/** Which units are in which line, in their order; what is in none is left out. */
export type Assignment = Readonly<Record<string, readonly string[]>>;

/** The units as they stand. @param order of the queued ones, line by line */
export function standingOf(units: readonly NightUnit[], printerIds: readonly string[]): Assignment {
  return Object.fromEntries(
    printerIds.map((printerId) => [
      printerId,
      units.filter(({ standsOn }) => standsOn === printerId).map(({ id }) => id),
    ]),
  );
}

/** An assignment as one word: the same lines are the same word. */
export function keyOf(assignment: Assignment): string {
  return Object.keys(assignment)
    .sort()
    .map((id) => `${id}:${(assignment[id] ?? []).join(',')}`)
    .join(';');
}

/** A change from one assignment to another, as a person would say it. */
export interface NightMove {
  readonly unitId: string;
  readonly name: string;
  readonly fromPrinterId: string | null;
  readonly toPrinterId: string;
  /** Its place in the line, from 0. */
  readonly at: number;
}

/** Where a unit is in an assignment; null: it is left out. */
export function placeIn(
  assignment: Assignment,
  unitId: string,
): { readonly printerId: string; readonly at: number } | null {
  for (const [printerId, ids] of Object.entries(assignment)) {
    const at = ids.indexOf(unitId);
    if (at >= 0) return { printerId, at };
  }
  return null;
}

/** What is put somewhere else: to another printer, into a line, or before others of its own line. */
export function movesBetween(units: readonly NightUnit[], before: Assignment, after: Assignment): NightMove[] {
  return units.flatMap(({ id: unitId, name }): NightMove[] => {
    const [from, to] = [placeIn(before, unitId), placeIn(after, unitId)];
    if (!to) return [];
    if (from?.printerId === to.printerId) {
      // Those before which it came are now before it, or the other way round.
      const others = (assignment: Assignment): string[] => {
        const line = assignment[to.printerId] ?? [];
        return line.slice(0, line.indexOf(unitId)).sort();
      };
      const known = new Set(before[to.printerId]);
      const same =
        others(before).join() ===
        others(after)
          .filter((id) => known.has(id))
          .join();
      if (same) return [];
    }
    return [{ unitId, name, fromPrinterId: from?.printerId ?? null, toPrinterId: to.printerId, at: to.at }];
  });
}
