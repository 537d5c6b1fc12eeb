import useSWR, { type SWRResponse } from 'swr';
import type { AwayLearned, AwayNow, MorningView } from '../../contract/api/away.ts';
import { KEYS } from './data.ts';

/** Times away that shop hours suggest, the one that is armed, and the one to look at. */
export const useAwayNow = (): SWRResponse<AwayNow, Error> => useSWR(KEYS.away, { refreshInterval: 60_000 });

/** A time away that was armed, planned against happened. */
export const useMorning = (id: string): SWRResponse<MorningView, Error> =>
  useSWR(`${KEYS.away}/${id}`, { refreshInterval: 10_000 });

export const useLearned = (wanted: boolean): SWRResponse<AwayLearned, Error> =>
  useSWR(wanted ? `${KEYS.away}/learned` : null);
