/** Rows a statement: far below what SQLite binds, large enough that the number of statements doesn't matter. */
const BATCH = 1000;

/** Cuts many rows into statements of some. */
export function batches<T>(rows: readonly T[]): T[][] {
  return Array.from({ length: Math.ceil(rows.length / BATCH) }, (_, i) => rows.slice(i * BATCH, (i + 1) * BATCH));
}
