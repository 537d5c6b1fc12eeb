/** What a line needs to know of a run to keep together what belongs together. */
interface Member {
  readonly id: string;
  /** Runs with the same word are moved as one: front and back, the segments of one run. */
  readonly together: string | null;
}

/** The word by which runs stay together: a pair, else a series. */
export function togetherOf(run: {
  readonly pair: { readonly id: string } | null;
  readonly series: { readonly id: string } | null;
}): string | null {
  return run.pair?.id ?? run.series?.id ?? null;
}

/**
 * A line as it can be put in order: runs that belong together are one unit, in their own order, at the place of the first of
 * them.
 */
export function lineUnits<T extends Member>(line: readonly T[]): T[][] {
  const units: T[][] = [];
  const known = new Map<string, T[]>();
  for (const run of line) {
    const unit = run.together === null ? undefined : known.get(run.together);
    if (unit) {
      unit.push(run);
      continue;
    }
    const own = [run];
    units.push(own);
    if (run.together !== null) known.set(run.together, own);
  }
  return units;
}

/**
 * The ids of a line with one run taken to another place, and what belongs to it with it.
 * @param beforeId the run before which it goes; null: to the end. A run that belongs to it counts as the next that doesn't
 */
export function movedTogether(line: readonly Member[], runId: string, beforeId: string | null): string[] {
  const moved = line.find(({ id }) => id === runId);
  if (!moved) return line.map(({ id }) => id);
  const goes = (run: Member): boolean => run.id === runId || (run.together !== null && run.together === moved.together);
  const at = beforeId === null ? -1 : line.findIndex(({ id }) => id === beforeId);
  const anchor = at < 0 ? undefined : line.slice(at).find((run) => !goes(run));
  const rest = line.filter((run) => !goes(run));
  const place = anchor ? rest.indexOf(anchor) : rest.length;
  return [...rest.slice(0, place), ...line.filter(goes), ...rest.slice(place)].map(({ id }) => id);
}

/** The ids of a line with one run, and what belongs to it, one unit earlier (-1) or later (1). */
export function steppedTogether(line: readonly Member[], runId: string, by: -1 | 1): string[] {
  const units = lineUnits(line);
  const at = units.findIndex((unit) => unit.some(({ id }) => id === runId));
  const [unit] = at < 0 || at + by < 0 || at + by >= units.length ? [] : units.splice(at, 1);
  if (unit) units.splice(at + by, 0, unit);
  return units.flat().map(({ id }) => id);
}
