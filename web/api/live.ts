import { useEffect, useState } from 'react';
import { useSWRConfig } from 'swr';
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
import { LIVE_JOB_STATES } from '../../core/flow/job.ts';
import { MissedReads } from './missed.ts';
import { pastJobsChanged } from './pastJobs.ts';
import { listOf, warmedKeys } from './warmUp.ts';

interface Gone {
  readonly id: string;
  readonly gone: true;
}

const GATHER_MS = 100;
const LOG_KEPT = 60;
/** After the line stands. */
const WARM_MS = 700;

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
    const source = new EventSource('/api/events');
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
    source.onopen = () => {
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
    source.onerror = () => {
      lost = true;
      setLink('lost');
    };
    const on = (event: string, take: (data: unknown) => void): void => {
      source.addEventListener(event, (message) => {
        take(JSON.parse((message as MessageEvent<string>).data));
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
        if (over || !atWork.has(id)) pastJobsChanged();
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
    return () => {
      window.clearTimeout(warmTimer);
      jobs.stop();
      runs.stop();
      missed.stop();
      source.close();
    };
  }, [cache, mutate]);
  return { link, time };
}

function isAtWork({ state }: JobItem): boolean {
  return (LIVE_JOB_STATES as readonly string[]).includes(state);
}

function one<T extends { id: string }>(item: T | Gone): Map<string, T | Gone> {
  return new Map([[item.id, item]]);
}

/** Collects changes for a moment, so that a thousand arriving files redraw a table a few times and not a thousand. */
function gatherer<T extends { id: string }>(flush: (changes: Map<string, T | Gone>) => void) {
  let changes = new Map<string, T | Gone>();
  let timer: number | undefined;
  return {
    add(item: T | Gone): void {
      changes.set(item.id, item);
      timer ??= window.setTimeout(() => {
        timer = undefined;
        const taken = changes;
        changes = new Map();
        flush(taken);
      }, GATHER_MS);
    },
    stop(): void {
      window.clearTimeout(timer);
    },
  };
}

function isGone(item: object): item is Gone {
  return 'gone' in item;
}

function merged<T extends { id: string }>(changes: Map<string, T | Gone>) {
  return (old: T[]): T[] => {
    const left = new Map(changes);
    const next: T[] = [];
    for (const item of old) {
      const change = left.get(item.id);
      left.delete(item.id);
      if (!change) next.push(item);
      else if (!isGone(change)) next.push(change);
    }
    for (const change of left.values()) if (!isGone(change)) next.push(change);
    return next;
  };
}

function newestFirst(item: RefusalView | Gone) {
  return (old: RefusalView[]): RefusalView[] => {
    const rest = old.filter((each) => each.id !== item.id);
    return isGone(item) ? rest : [item, ...rest];
  };
}

function withSpool(spool: SpoolView) {
  return (old: Printer[]): Printer[] =>
    old.map((printer) => {
      const others = printer.spools.filter((each) => each.id !== spool.id);
      const spools = spool.printerId === printer.id ? [...others, spool] : others;
      return { ...printer, spools };
    });
}

function withEvent(old: LogEvent[], event: LogEvent): LogEvent[] {
  if (old.some((each) => each.id === event.id)) return old;
  return [event, ...old].sort((a, b) => b.id - a.id).slice(0, LOG_KEPT);
}
