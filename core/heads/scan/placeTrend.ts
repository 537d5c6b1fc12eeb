/** How far a line lies off its place (line distances). */
export interface PlaceOff {
  readonly column: number;
  readonly row: number;
  readonly off: number;
}

/** The middle one. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = Math.floor(sorted.length / 2);
  return sorted.length === 0
    ? 0
    : sorted.length % 2 === 1
      ? (sorted[half] ?? 0)
      : ((sorted[half - 1] ?? 0) + (sorted[half] ?? 0)) / 2;
}

/** Rows over which the trend is taken, before and behind. */
const NEAR_ROWS = 8;
/** Fewer lines nearby say too little of where lines lie. */
const ENOUGH = 5;

/**
 * How far lines lie off their places at each place of a block, taken from the middle of those around: what single nozzles do, it
 * does not follow. Each column has a shift of its own; along the rows they move together.
 * @returns the trend by column and row
 */
export function placeTrend(offs: readonly PlaceOff[], columns: number): (column: number, row: number) => number {
  const byColumn = Array.from({ length: columns }, (_, column) =>
    median(offs.filter((each) => each.column === column).map(({ off }) => off)),
  );
  const rows = new Map<number, number[]>();
  for (const { column, row, off } of offs) {
    const rest = off - (byColumn[column] ?? 0);
    const at = rows.get(row);
    if (at) at.push(rest);
    else rows.set(row, [rest]);
  }
  const known = new Map<number, number>();
  return (column, row) => {
    let along = known.get(row);
    if (along === undefined) {
      const near: number[] = [];
      for (let k = row - NEAR_ROWS; k <= row + NEAR_ROWS; k += 1) near.push(...(rows.get(k) ?? []));
      along = near.length < ENOUGH ? 0 : median(near);
      known.set(row, along);
    }
    return (byColumn[column] ?? 0) + along;
  };
}
