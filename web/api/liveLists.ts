import type { LogEvent } from '../../contract/api/common.ts';
import type { JobItem, Printer, RefusalView, SpoolView } from './data.ts';
import { LIVE_JOB_STATES } from '../../core/flow/job.ts';

/** Told in place of a view: the thing no longer exists. */
export interface Gone {
  readonly id: string;
  readonly gone: true;
}

const GATHER_MS = 100;

const LOG_KEPT = 60;

/** Whether a job is still to be worked on; the others are of the past. */
export function isAtWork({ state }: JobItem): boolean {
  return (LIVE_JOB_STATES as readonly string[]).includes(state);
}

/** One change as the changes of a list. */
export function one<T extends { id: string }>(item: T | Gone): Map<string, T | Gone> {
  return new Map([[item.id, item]]);
}

/** Collects changes for a moment, so that a thousand arriving files redraw a table a few times and not a thousand. */
export function gatherer<T extends { id: string }>(flush: (changes: Map<string, T | Gone>) => void) {
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

/** Whether what is told of a thing is that it is no more. */
export function isGone(item: object): item is Gone {
  return 'gone' in item;
}

/** A list with changes put in: what is gone leaves it, what is new goes to its end, the rest keeps its place. */
export function merged<T extends { id: string }>(changes: Map<string, T | Gone>) {
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

/** Refusals with one put in, the newest first. */
export function newestFirst(item: RefusalView | Gone) {
  return (old: RefusalView[]): RefusalView[] => {
    const rest = old.filter((each) => each.id !== item.id);
    return isGone(item) ? rest : [item, ...rest];
  };
}

/** Printers with a spool where it stands now, and nowhere else. */
export function withSpool(spool: SpoolView) {
  return (old: Printer[]): Printer[] =>
    old.map((printer) => {
      const others = printer.spools.filter((each) => each.id !== spool.id);
      const spools = spool.printerId === printer.id ? [...others, spool] : others;
      return { ...printer, spools };
    });
}

/** The log with an event put in once, by its number; the oldest leave it. */
export function withEvent(old: LogEvent[], event: LogEvent): LogEvent[] {
  if (old.some((each) => each.id === event.id)) return old;
  return [event, ...old].sort((a, b) => b.id - a.id).slice(0, LOG_KEPT);
}
