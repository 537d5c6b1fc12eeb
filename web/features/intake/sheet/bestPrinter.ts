import useSWR from 'swr';
import type { FitFirsts } from '../../../../contract/api/fit.ts';
import { sendJson } from '../../../api/client.ts';
import type { JobItem } from '../../../api/data.ts';

type First = FitFirsts[number];

/** Rows that come into view within this time are asked for together. */
const GATHER_MS = 90;
const AT_ONCE = 60;
/** Lines move on: what was best may not be it any more. */
const RENEW_MS = 60_000;

let waiting = new Map<string, ((first: First | undefined) => void)[]>();
let timer: number | undefined;

/** The best printer for a job; questions of many rows are gathered into one request. */
function ask(jobId: string): Promise<First | undefined> {
  return new Promise((done) => {
    waiting.set(jobId, [...(waiting.get(jobId) ?? []), done]);
    timer ??= window.setTimeout(() => {
      timer = undefined;
      void flush();
    }, GATHER_MS);
  });
}

async function flush(): Promise<void> {
  const asked = waiting;
  waiting = new Map();
  const ids = [...asked.keys()];
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const part = ids.slice(from, from + AT_ONCE);
    const firsts = await sendJson<FitFirsts>('POST', '/api/fit/firsts', { jobIds: part }).catch((): FitFirsts => []);
    for (const id of part) for (const done of asked.get(id) ?? []) done(firsts.find(({ jobId }) => jobId === id));
  }
}

/** The first of a job's fit list, asked for when its row is seen; undefined while it is asked, or where nothing is owed. */
export function useBestPrinter(job: JobItem, seen: boolean): First | undefined {
  const owes = job.pieces.owed > 0 && ['ready', 'checked'].includes(job.state);
  const key = owes && seen ? ['best', job.id, job.stockId, job.widthMm, job.heightMm, job.copies, job.dueMs] : null;
  return useSWR<First | undefined, Error>(key, () => ask(job.id), {
    revalidateOnFocus: false,
    dedupingInterval: RENEW_MS,
  }).data;
}
