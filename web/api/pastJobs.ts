import { useCallback, useEffect } from 'react';
import useSWRInfinite from 'swr/infinite';
import type { JobList, JobsWhich } from '../../contract/api/job.ts';
import { isTooShort } from '../../core/ticket/jobQuery.ts';
import { getJson } from './client.ts';
import type { JobItem } from './data.ts';

const PAGE = 120;
/** Jobs that end one after another renew a list so often at most. */
const RENEW_MS = 1500;

/** A list of the past that is on the page. */
interface Shown {
  readonly renew: () => void;
  readonly has: (jobId: string) => boolean;
}

const lists = new Set<Shown>();
let timer: ReturnType<typeof setTimeout> | undefined;

/** Says that a job has come to the past, or has left it. */
export function pastJobsChanged(): void {
  timer ??= setTimeout(() => {
    timer = undefined;
    for (const { renew } of lists) renew();
  }, RENEW_MS);
}

/** Whether a list of the past shows this job: it may have left the past before the page heard so. */
export function isShownOfPast(jobId: string): boolean {
  return [...lists].some(({ has }) => has(jobId));
}

export interface PastJobsWanted {
  readonly which: Exclude<JobsWhich, 'all' | 'live'>;
  readonly text: string;
  readonly queueId: string | null;
}

export interface PastJobs {
  readonly items: readonly JobItem[];
  readonly loading: boolean;
  readonly error: Error | undefined;
  /** The words are too short to be searched for. */
  readonly tooShort: boolean;
  readonly hasMore: boolean;
  /** Reads the next page, unless it is being read already. */
  readonly more: () => void;
}

/** The address of a page of the past, newest first. */
export function pastJobsPath({ which, text, queueId }: PastJobsWanted, limit: number, cursor: string | null): string {
  const query = new URLSearchParams({ which, order: 'newest', limit: String(limit) });
  if (text.trim() !== '') query.set('text', text.trim());
  if (queueId !== null) query.set('queueId', queueId);
  if (cursor !== null) query.set('cursor', cursor);
  return `/api/jobs?${query.toString()}`;
}

/** Jobs of the past, searched by the server and read a page at a time; null: nobody looks at them. */
export function usePastJobs(wanted: PastJobsWanted | null): PastJobs {
  const tooShort = wanted !== null && isTooShort(wanted.text);
  const { data, error, isLoading, isValidating, setSize, mutate } = useSWRInfinite<JobList, Error>(
    (index: number, before: JobList | null) => {
      if (wanted === null || tooShort || (index > 0 && before?.nextCursor == null)) return null;
      return pastJobsPath(wanted, PAGE, before?.nextCursor ?? null);
    },
    getJson<JobList>,
    { revalidateFirstPage: false, keepPreviousData: true },
  );
  useEffect(() => {
    const list: Shown = {
      renew: () => void mutate(),
      has: (jobId) => data?.some(({ items }) => items.some(({ id }) => id === jobId)) ?? false,
    };
    lists.add(list);
    return () => {
      lists.delete(list);
    };
  }, [mutate, data]);
  const pages = wanted === null || tooShort ? [] : (data ?? []);
  const hasMore = pages.at(-1)?.nextCursor != null;
  const more = useCallback(() => {
    if (hasMore && !isValidating) void setSize((size) => size + 1);
  }, [hasMore, isValidating, setSize]);
  return {
    items: pages.flatMap((page) => page.items),
    loading: wanted !== null && !tooShort && isLoading,
    error: wanted === null ? undefined : error,
    tooShort,
    hasMore,
    more,
  };
}
