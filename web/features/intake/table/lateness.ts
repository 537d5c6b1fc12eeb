import type { JobItem } from '../../../api/data.ts';
import { useBestPrinter } from '../sheet/bestPrinter.ts';
import { useDatesAtRisk } from './datesAtRisk.ts';

/** Less than this is no news (ms). */
const SLACK_MS = 60_000;

/** Whether the job misses its date: by its run where it has one, else by the best printer that it could go to now. */
export function useRisk(job: JobItem, seen: boolean): { readonly lateMs: number; readonly why: string } | null {
  const data = useDatesAtRisk();
  const best = useBestPrinter(job, seen && job.dueMs !== null);
  const placed = data.find(({ jobId }) => jobId === job.id);
  if (placed) return { lateMs: placed.lateMs, why: `${placed.runName} on ${placed.printerName}, as its line is now` };
  if (best && best.lateMs > SLACK_MS)
    return { lateMs: best.lateMs, why: `on ${best.printerName}, the best for it, at the end of its line` };
  return null;
}
