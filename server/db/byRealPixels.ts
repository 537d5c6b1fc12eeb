import type { runs } from './tables/schema.ts';

/** Columns that say how a run's planned ink came about. */
export type InkSource = Pick<typeof runs.$inferSelect, 'inkRendering' | 'inkSample'>;

/** Whether a run's planned ink was counted dot by dot, or sampled from the same pixels: both are off by what drops are off by, and by no more. */
export function byRealPixels({ inkRendering, inkSample }: InkSource): boolean {
  return inkRendering !== null || inkSample !== null;
}
