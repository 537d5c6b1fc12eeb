import useSWR, { type SWRResponse } from 'swr';
import useSWRInfinite from 'swr/infinite';
import type { PaceAnswer, PaceRuns } from '../../../contract/api/pace/pace.ts';
import { getJson } from '../../api/client.ts';
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

/** @param by null: nothing is asked */
export function usePace(period: Period, by: string | null, filter: PaceFilter): SWRResponse<PaceAnswer, Error> {
  return useSWR(by === null ? null : `/api/pace?${paceQuery(period, by, filter)}`, {
    refreshInterval: AGAIN_MS,
    keepPreviousData: true,
  });
}

/** The runs behind a figure, a page at a time. */
export function usePaceRuns(period: Period, filter: PaceFilter) {
  return useSWRInfinite<PaceRuns, Error>(
    (index: number, last: PaceRuns | null) => {
      if (index > 0 && last?.before == null) return null;
      const before = last?.before == null ? '' : `&before=${encodeURIComponent(last.before)}`;
      return `/api/pace/runs?${paceQuery(period, '', filter)}${before}`;
    },
    getJson<PaceRuns>,
    { revalidateFirstPage: false },
  );
}
