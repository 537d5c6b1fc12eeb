/** Doses of a page-wide array are counted in columns as wide as this (mm): each of its nozzles stands over one place. */
const COLUMN_MM = 10;

/** Something printed: where it lies across the media, how long it is in the feed, and how much of it is covered (0 … 1). */
export interface Printed {
  readonly xMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly coverage: number;
}

/**
 * How much of a channel every column of the media gets at least, as a length in the feed that would be printed in full (mm). A
 * column in which nothing is printed gets nothing, however much its neighbours do.
 * @param barMm of a bar across the media that the channel prints in full
 */
export function leastColumnMm(printed: readonly Printed[], usableWidthMm: number, barMm: number): number {
  const count = Math.max(1, Math.ceil(usableWidthMm / COLUMN_MM - 1e-9));
  const columns = new Float64Array(count);
  for (const { xMm, widthMm, heightMm, coverage } of printed) {
    const first = Math.max(0, Math.floor(xMm / COLUMN_MM));
    const last = Math.min(count - 1, Math.ceil((xMm + widthMm) / COLUMN_MM - 1e-9) - 1);
    for (let i = first; i <= last; i += 1) {
      const fromMm = i * COLUMN_MM;
      // The last column may be narrower.
      const wide = Math.min(COLUMN_MM, usableWidthMm - fromMm);
      const over = Math.min(fromMm + wide, xMm + widthMm) - Math.max(fromMm, xMm);
      if (over > 0) columns[i] = (columns[i] ?? 0) + (over / wide) * heightMm * coverage;
    }
  }
  return barMm + columns.reduce((least, mm) => Math.min(least, mm), Infinity);
}
