import useSWR, { type SWRResponse } from 'swr';
import type { PaceAnswer, PaceRuns } from '../../../contract/api/pace.ts';
import type { Period } from './periods.ts';

/** What figures are narrowed to. */
export type PaceFilter = Partial<Record<'printerId' | 'stockId' | 'queueId' | 'modeId' | 'customer', string>>;

const AGAIN_MS = 30_000;

export function paceQuery({ fromMs, toMs }: Period, by: string, filter: PaceFilter): string {
  const params = new URLSearchParams({ fromMs: String(fromMs), toMs: String(toMs) });
  if (by !== '') params.set('by', by);
  for (const [key, value] of Object.entries(filter)) params.set(key, value);
  return params.toString();
}

export function usePace(period: Period, by: string, filter: PaceFilter): SWRResponse<PaceAnswer, Error> {
  return useSWR(`/api/pace?${paceQuery(period, by, filter)}`, { refreshInterval: AGAIN_MS, keepPreviousData: true });
}

export function usePaceRuns(period: Period, filter: PaceFilter): SWRResponse<PaceRuns, Error> {
  return useSWR(`/api/pace/runs?${paceQuery(period, '', filter)}`, { keepPreviousData: true });
}
