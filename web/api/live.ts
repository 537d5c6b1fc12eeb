import type { AwayNow } from '../../contract/api/away.ts';
import { useEffect, useState } from 'react';
import { useSWRConfig } from 'swr';
import { getJson, received } from './client.ts';
import type { ClockView, LogEvent } from '../../contract/api/common.ts';
import type { StorageView } from '../../contract/api/storage.ts';
import type { ShopSizes } from '../../contract/api/ticket.ts';
import {
  KEYS,
  type JobItem,
  type Preset,
  type Printer,
  type Queue,
  type RefusalView,
  type RunDetail,
  type RunItem,
  type Stock,
  type SpoolView,
} from './data.ts';
import { MissedReads } from './missed.ts';
import { isShownOfPast, pastJobsChanged } from './pastJobs.ts';
import { listOf, warmedKeys } from './warmUp.ts';
import { type Gone, isGone, merged, newestFirst, withSpool, withEvent, one, isAtWork, gatherer } from './liveLists.ts';
/** After the line stands. */
const WARM_MS = 700;
/** After the line was refused. */
const AGAIN_MS = 2000;

/** The shop clock as last told, and when (page time). */
export interface ShopTime extends ClockView {
  readonly heardAt: number;
}

export type Link = 'connecting' | 'live' | 'lost';

/** Listens to the server for as long as the page is open and keeps the caches up to date. */
export function useLive(): { readonly link: Link; readonly time: ShopTime | undefined } {
  const [link, setLink] = useState<Link>('connecting');
  const [time, setTime] = useState<ShopTime>();
  const { cache, mutate } = useSWRConfig();
  useEffect(() => {
    let source = new EventSource('/api/events');
    let again: number | undefined;
    let lost = false;
    let first = true;
    /** Changes to lists that are being read once more: the answer may be older than they are. */
    const late = new Map<string, ((old: unknown) => unknown)[]>();
    const readOnceMore = async (key: string): Promise<void> => {
      late.set(key, []);
      try {
        const read = await listOf(key);
        const data = (late.get(key) ?? []).reduce((old, change) => change(old), read);
        void mutate(key, data, { revalidate: false });
      } catch {
        // The line broke again: what is missed is read when it stands.
      } finally {
        late.delete(key);
      }
    };
    let warmTimer: number | undefined;
    const onOpen = (): void => {
      setLink('live');
      // What was missed meanwhile is read again.
      if (lost) void mutate(() => true);
      // Lists that were asked for before the line stood, as soon as the page has drawn itself.
      else if (first) {
        warmTimer = window.setTimeout(() => {
          for (const key of warmedKeys()) void readOnceMore(key);
        }, WARM_MS);
      }
      lost = false;
      first = false;
    };
    const onError = (): void => {
      lost = true;
      setLink('lost');
      // A line that was refused is not tried again by itself: whoever was signed in may not be any more.
      if (source.readyState === EventSource.CLOSED) again = window.setTimeout(() => void openAgain(), AGAIN_MS);
    };
    const takers = new Map<string, (message: Event) => void>();
    const follow = (): void => {
      source.onopen = onOpen;
      source.onerror = onError;
      for (const [event, take] of takers) source.addEventListener(event, take);
    };
    let ended = false;
    const openAgain = async (): Promise<void> => {
      // Waits for whoever has to sign in first.
      await getJson('/api/clock').catch(() => undefined);
      if (ended) return;
      source = new EventSource('/api/events');
      follow();
    };
    const on = (event: string, take: (data: unknown) => void): void => {
      takers.set(event, (message) => {
        take(received((message as MessageEvent<string>).data));
      });
    };
    const missed = new MissedReads(
      (key) => cache.get(key),
      (key) => void mutate(key),
    );
    const patch = <T>(key: string, change: (old: T) => T): void => {
      late.get(key)?.push(change as (old: unknown) => unknown);
      if (cache.get(key)?.data === undefined) missed.add(key);
      else void mutate<T>(key, (old) => (old === undefined ? old : change(old)), { revalidate: false });
    };
    const jobs = gatherer<JobItem>((changes) => {
      const atWork = new Set((cache.get(KEYS.jobs)?.data as JobItem[] | undefined)?.map(({ id }) => id));
      for (const [id, job] of changes) {
        if (isGone(job)) continue;
        // What is over leaves the list of jobs at work; what is owed again comes back into it.
        const over = !isAtWork(job);
        if (over) changes.set(id, { id, gone: true });
        if (over || !atWork.has(id) || isShownOfPast(id)) pastJobsChanged();
      }
      patch(KEYS.jobs, merged(changes));
    });
    const runs = gatherer<RunItem>((changes) => {
      patch(KEYS.runs, merged(changes));
    });
    on('job', (data) => {
      jobs.add(data as JobItem | Gone);
      void mutate(`/api/jobs/${(data as JobItem).id}`);
    });
    on('run', (data) => {
      const item = data as RunItem | Gone;
      runs.add(item);
      const key = `/api/runs/${item.id}`;
      if (isGone(item) || cache.get(key)?.data === undefined) return;
      // A draft is somebody's work on a Bench: that page knows it best. A back is laid by its front.
      if (item.state !== 'draft') patch<RunDetail>(key, (old) => ({ ...old, ...item }));
      else if (item.pair?.side === 'back') void mutate(key);
    });
    on('printer', (data) => {
      patch(KEYS.printers, merged(one(data as Printer | Gone)));
    });
    on('spool', (data) => {
      patch(KEYS.spools, merged(one(data as SpoolView | Gone)));
      patch(KEYS.printers, withSpool(data as SpoolView));
    });
    on('queue', (data) => {
      patch(KEYS.queues, merged(one(data as Queue | Gone)));
    });
    on('preset', (data) => {
      patch(KEYS.presets, merged(one(data as Preset | Gone)));
    });
    on('setup', () => {
      void mutate(KEYS.shop);
      void mutate(KEYS.crew);
      void mutate(KEYS.profiles);
    });
    on('rules', () => {
      void mutate(KEYS.rules);
    });
    on('stock', (data) => {
      patch(KEYS.stocks, merged(one(data as Stock | Gone)));
    });
    on('sizes', (data) => {
      void mutate(KEYS.sizes, (data as { sizes: ShopSizes }).sizes, { revalidate: false });
    });
    on('refusal', (data) => {
      patch(KEYS.refusals, newestFirst(data as RefusalView | Gone));
    });
    on('log', (data) => {
      patch<LogEvent[]>(KEYS.log, (old) => withEvent(old, data as LogEvent));
    });
    on('storage', (data) => {
      void mutate(KEYS.storage, data as StorageView, { revalidate: false });
    });
    on('clock', (data) => {
      setTime({ ...(data as ClockView), heardAt: performance.now() });
    });
    on('away', (data) => {
      void mutate(KEYS.away, data as AwayNow, { revalidate: false });
    });
    on('people', () => {
      void mutate(KEYS.people);
    });
    // Somebody's role or session has changed, maybe of whoever is here.
    on('sign-in', () => {
      void mutate(KEYS.me);
      void mutate(KEYS.people);
    });
    follow();
    return () => {
      ended = true;
      window.clearTimeout(again);
      window.clearTimeout(warmTimer);
      jobs.stop();
      runs.stop();
      missed.stop();
      source.close();
    };
  }, [cache, mutate]);
  return { link, time };
}
