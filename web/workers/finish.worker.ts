import type { Printer, RunItem, SpoolView } from '../api/data.ts';
import { type FinishRange, finishRanges } from '../../core/schedule/finishRanges.ts';
import { snapshotOf } from '../../core/schedule/planInput.ts';
import { Attendance, type TimeSpan } from '../../core/schedule/shopHours.ts';

/** The floor as the page plans it. */
export interface FinishOrder {
  readonly printers: readonly Printer[];
  readonly runs: readonly RunItem[];
  readonly spools: readonly SpoolView[];
  readonly attended: readonly TimeSpan[];
  readonly away: TimeSpan | null;
  readonly nowMs: number;
}

export type FinishNews = ReadonlyMap<string, FinishRange>;

/** With one seed the ranges of a plan stay as they are while nothing changes. */
const SEED = 1;

self.onmessage = (message: MessageEvent<FinishOrder>) => {
  const { printers, runs, spools, attended, away, nowMs } = message.data;
  const snapshot = { ...snapshotOf(printers, runs, spools, new Attendance(attended), nowMs), away };
  const learned = new Map(printers.map((printer) => [printer.id, printer.learned]));
  self.postMessage(finishRanges(snapshot, learned, { seed: SEED }) satisfies FinishNews);
};
