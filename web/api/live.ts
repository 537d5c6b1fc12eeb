import { useEffect, useState } from 'react';
import { mutate } from 'swr';
import type { ClockView, LogEvent } from '../../contract/api/common.ts';
import {
  KEYS,
  type JobItem,
  type Printer,
  type Queue,
  type RefusalView,
  type RunItem,
  type SpoolView,
} from './data.ts';

interface Gone {
  readonly id: string;
  readonly gone: true;
}

const GATHER_MS = 100;
const LOG_KEPT = 60;

/** The shop clock as last told, and when (page time). */
export interface ShopTime extends ClockView {
  readonly heardAt: number;
}

export type Link = 'connecting' | 'live' | 'lost';

/** Listens to the server for as long as the page is open and keeps the caches up to date. */
export function useLive(): { readonly link: Link; readonly time: ShopTime | undefined } {
  const [link, setLink] = useState<Link>('connecting');
  const [time, setTime] = useState<ShopTime>();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let lost = false;
    source.onopen = () => {
      setLink('live');
      // What was missed meanwhile is read again.
      if (lost) void mutate(() => true);
      lost = false;
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
    const jobs = gatherer<JobItem>((changes) => void mutate(KEYS.jobs, merged(changes), { revalidate: false }));
    const runs = gatherer<RunItem>((changes) => void mutate(KEYS.runs, merged(changes), { revalidate: false }));
    on('job', (data) => {
      jobs.add(data as JobItem | Gone);
      void mutate(`/api/jobs/${(data as JobItem).id}`);
    });
    on('run', (data) => {
      runs.add(data as RunItem | Gone);
      const { id, state } = data as RunItem;
      // A draft is somebody's work on a Bench: that page knows it best.
      if (state !== 'draft') void mutate(`/api/runs/${id}`);
    });
    on('printer', (data) => void mutate(KEYS.printers, merged(one(data as Printer | Gone)), { revalidate: false }));
    on('spool', (data) => {
      void mutate(KEYS.spools, merged(one(data as SpoolView | Gone)), { revalidate: false });
      void mutate(KEYS.printers, withSpool(data as SpoolView), { revalidate: false });
    });
    on('queue', (data) => void mutate(KEYS.queues, merged(one(data as Queue | Gone)), { revalidate: false }));
    on('refusal', (data) => void mutate(KEYS.refusals, newestFirst(data as RefusalView | Gone), { revalidate: false }));
    on('log', (data) => {
      void mutate(KEYS.log, (old: LogEvent[] | undefined) => withEvent(old ?? [], data as LogEvent), {
        revalidate: false,
      });
    });
    on('clock', (data) => {
      setTime({ ...(data as ClockView), heardAt: performance.now() });
    });
    return () => {
      jobs.stop();
      runs.stop();
      source.close();
    };
  }, []);
  return { link, time };
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
  return (old: T[] | undefined): T[] | undefined => {
    if (!old) return old;
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
  return (old: RefusalView[] | undefined): RefusalView[] => {
    const rest = (old ?? []).filter((each) => each.id !== item.id);
    return isGone(item) ? rest : [item, ...rest];
  };
}

function withSpool(spool: SpoolView) {
  return (old: Printer[] | undefined): Printer[] | undefined =>
    old?.map((printer) => {
      const others = printer.spools.filter((each) => each.id !== spool.id);
      const spools = spool.printerId === printer.id ? [...others, spool] : others;
      return { ...printer, spools };
    });
}

function withEvent(old: LogEvent[], event: LogEvent): LogEvent[] {
  if (old.some((each) => each.id === event.id)) return old;
  return [event, ...old].sort((a, b) => b.id - a.id).slice(0, LOG_KEPT);
}
