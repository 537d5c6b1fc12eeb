import { useEffect } from 'react';
import useSWR, { type SWRResponse } from 'swr';
import type { CareRuleView, RotaView, TimerView } from '../../../contract/api/care.ts';
import { useDesigns, useLog, usePrinters } from '../../api/data.ts';

const EVERY_MS = 20_000;

export const TIMERS = '/api/timers';

export const useTimers = (): SWRResponse<TimerView[], Error> => useSWR(TIMERS);

export const useCareRules = (): SWRResponse<CareRuleView[], Error> => useSWR('/api/care-rules');

/** What happens by itself in a span of time; anew whenever a printer has changed. */
export function useRota(fromMs: number, toMs: number): SWRResponse<RotaView, Error> {
  const answer = useSWR<RotaView, Error>(`/api/rota?fromMs=${String(fromMs)}&toMs=${String(toMs)}`, {
    refreshInterval: EVERY_MS,
    keepPreviousData: true,
  });
  const { mutate: timersAnew } = useTimers();
  const { mutate: designsAnew } = useDesigns();
  const { mutate: rulesAnew } = useCareRules();
  const { data: log } = useLog();
  const { data: printers } = usePrinters();
  const { mutate } = answer;
  // Timers and care are told of with their printers.
  const told = printers
    ?.map(({ id, state, care }) => `${id} ${state} ${care.map((each) => each.id).join(' ')}`)
    .join('\n');
  // What changes no line, such as a paused timer that is removed, is known by the log.
  const done = log?.find(({ kind }) => /^(timer|design|care|care-rule)\./.test(kind))?.id;
  useEffect(() => {
    void mutate();
    void timersAnew();
    void designsAnew();
    void rulesAnew();
  }, [told, done, mutate, timersAnew, designsAnew, rulesAnew]);
  return answer;
}
