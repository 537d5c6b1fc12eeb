import { useEffect } from 'react';
import useSWR, { type SWRResponse } from 'swr';
import type {
  CheckReadingBody,
  CheckView,
  ClogCurveView,
  HeadsView,
  PlotReadingView,
} from '../../../contract/api/heads.ts';
import { sendForm, sendJson } from '../../api/client.ts';
import { useLog, usePrinters } from '../../api/data.ts';

const HEADS = '/api/heads';
/** Idle time goes on while nothing happens. */
const EVERY_MS = 30_000;

export type Heads = HeadsView;
export type HeadChannel = Heads['channels'][number];
export type Check = CheckView;

/** The heads of every printer; anew whenever a printer, or what was read of it, has changed. */
export function useHeads(): SWRResponse<HeadsView[], Error> {
  const answer = useSWR<HeadsView[], Error>(HEADS, { refreshInterval: EVERY_MS, keepPreviousData: true });
  const { mutate } = answer;
  const { data: printers } = usePrinters();
  const { data: log } = useLog();
  const told = printers?.map(({ id, state, checkToRead }) => `${id} ${state} ${checkToRead ?? ''}`).join('\n');
  const done = log?.find(({ kind }) => /^(check|care)\./.test(kind))?.id;
  useEffect(() => {
    void mutate();
  }, [told, done, mutate]);
  return answer;
}

/** How likely a channel stays open by its idle hours. */
export const useClogCurve = (printerId: string, channelId: string): SWRResponse<ClogCurveView, Error> =>
  useSWR(`/api/printers/${printerId}/heads/${channelId}/curve`, { keepPreviousData: true });

/** Has pictures of a check plot read. */
export function readPictures(printerId: string, files: readonly File[]): Promise<PlotReadingView> {
  const form = new FormData();
  for (const file of files) form.append('file', file, file.name);
  return sendForm(`/api/printers/${printerId}/check-plot/read`, form);
}

/** Keeps what a person says that a check shows; one that was not printed from here is a check of its own. */
export function keepReading(printerId: string, checkId: string | null, body: CheckReadingBody): Promise<unknown> {
  return checkId === null
    ? sendJson('POST', `/api/printers/${printerId}/reading`, body)
    : sendJson('POST', `/api/checks/${checkId}/reading`, body);
}
