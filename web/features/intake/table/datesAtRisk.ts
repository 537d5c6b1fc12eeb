import useSWR from 'swr';
import type { JobAtRisk } from '../../../../contract/api/fit.ts';
import { getJson } from '../../../api/client.ts';

const AGAIN_MS = 20_000;
const NONE: readonly JobAtRisk[] = [];

/** Jobs whose runs will be late as the lines of the printers are now. */
export function useDatesAtRisk(): readonly JobAtRisk[] {
  const { data = NONE } = useSWR<readonly JobAtRisk[], Error>(
    '/api/dates-at-risk',
    () => getJson<JobAtRisk[]>('/api/dates-at-risk'),
    { refreshInterval: AGAIN_MS, dedupingInterval: AGAIN_MS / 2 },
  );
  return data;
}
