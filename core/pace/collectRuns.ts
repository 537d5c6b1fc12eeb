/** A run that could have been printed together with others. */
export interface Collectable {
  readonly id: string;
  /** Runs of another key are never printed as one: printer, stock, mode and settings. */
  readonly key: string;
  readonly startedMs: number;
  readonly lengthMm: number;
  /** As long as its printer prints in one go. */
  readonly longestMm: number;
}

/**
 * Which runs would have been one, had jobs been collected: runs of one key, from the first that begins until so long after its
 * begin, as long as all of them behind one another could be printed in one go. Each group is printed when its last run was.
 * @returns ids of each group in the order in which they began; runs that stay alone are in none
 */
export function collectRuns(runs: readonly Collectable[], withinMs: number): string[][] {
  const open = new Map<string, { readonly fromMs: number; lengthMm: number; readonly ids: string[] }>();
  const groups: string[][] = [];
  for (const { id, key, startedMs, lengthMm, longestMm } of [...runs].sort((a, b) => a.startedMs - b.startedMs)) {
    const own = open.get(key);
    if (own && startedMs - own.fromMs <= withinMs && own.lengthMm + lengthMm <= longestMm) {
      own.ids.push(id);
      own.lengthMm += lengthMm;
      continue;
    }
    const ids = [id];
    open.set(key, { fromMs: startedMs, lengthMm, ids });
    groups.push(ids);
  }
  return groups.filter(({ length }) => length > 1);
}
