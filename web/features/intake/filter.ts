import type { JobItem } from '../../api/data.ts';

export interface JobFilter {
  readonly text: string;
  /** 'waiting' leaves out what is printed, cancelled or in a run. */
  readonly show: 'waiting' | 'in runs' | 'printed' | 'all';
  readonly queueId: string | null;
}

export const NO_FILTER: JobFilter = { text: '', show: 'waiting', queueId: null };

const SHOWS: Record<Exclude<JobFilter['show'], 'all'>, ReadonlySet<string>> = {
  waiting: new Set(['arriving', 'arrived', 'checked', 'ready', 'blocked']),
  'in runs': new Set(['placed', 'printing']),
  printed: new Set(['printed', 'shelved', 'dropped', 'cancelled']),
};

export function belongs(job: JobItem, show: JobFilter['show']): boolean {
  // A job in a run that still owes pieces is waiting too.
  return (
    show === 'all' ||
    SHOWS[show].has(job.state) ||
    (show === 'waiting' && job.pieces.owed > 0 && !SHOWS.printed.has(job.state))
  );
}

const texts = new WeakMap<JobItem, string>();

/** What a job is found by, put together once for each version of it. */
function searchText(job: JobItem): string {
  let text = texts.get(job);
  if (text === undefined) {
    text = [job.sourceName, job.customer, job.orderNo, job.state, ...job.findings.map((finding) => finding.text)]
      .join(' ')
      .toLowerCase();
    texts.set(job, text);
  }
  return text;
}

/** Every word must be found somewhere in name, customer, order, state or findings. */
export function filterJobs(jobs: readonly JobItem[], filter: JobFilter): JobItem[] {
  const words = filter.text.toLowerCase().split(/\s+/).filter(Boolean);
  return jobs.filter((job) => {
    if (!belongs(job, filter.show) || (filter.queueId !== null && job.queueId !== filter.queueId)) return false;
    if (words.length === 0) return true;
    const text = searchText(job);
    return words.every((word) => text.includes(word));
  });
}
