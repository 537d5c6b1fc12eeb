import type { CareReport } from '../contract/machine/protocol.ts';
import type { CareWork } from './memory.ts';

/** How much of some care is done, 0 … 1. */
export function fedShare({ doneMs, order }: CareWork): number {
  return order.durationMs <= 0 ? 1 : Math.min(1, doneMs / order.durationMs);
}

/** What a stand-in says of care that it does. */
export function careReport(care: CareWork, seq: number): CareReport {
  const share = fedShare(care);
  const { careId, attempt, order, startedMs } = care;
  return {
    careId,
    attempt,
    seq,
    status: 'caring',
    msLeft: Math.max(0, order.durationMs - care.doneMs),
    fedMm: order.fedMm * share,
    inkMl: Object.fromEntries(Object.entries(order.inkMl).map(([channel, ml]) => [channel, ml * share])),
    reason: null,
    startedMs,
    endedMs: null,
  };
}
