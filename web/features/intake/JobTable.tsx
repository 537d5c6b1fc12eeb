import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useRef, useState } from 'react';
import { errorText } from '../../api/client.ts';
import type { JobItem, Queue } from '../../api/data.ts';
import { isTyping } from '../../app/useGlobalKeys.ts';
import { useShopNow, useZone } from '../../app/shopTime.ts';
import { JobRow } from './JobRow.tsx';
import { COLUMNS, ROW_PX } from './columns.ts';

export interface JobTableProps {
  readonly jobs: readonly JobItem[];
  readonly queues: readonly Queue[];
  readonly loading: boolean;
  readonly failed: Error | undefined;
  readonly filtered: boolean;
  readonly selected: ReadonlySet<string>;
  readonly onSelect: (selected: ReadonlySet<string>) => void;
  readonly opened: string | null;
  readonly onOpen: (id: string | null) => void;
  readonly onLayOut: () => void;
}

/** More than can be on the screen with what is kept beyond it: rows are re-used, not made anew, while scrolling. */
const SLOTS = 64;
const RENEW_MS = 20_000;

export function JobTable(props: JobTableProps) {
  const { jobs, selected, opened } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [cursor, setCursor] = useState(0);
  const queueNames = new Map(props.queues.map((queue) => [queue.id, queue.name]));
  const rows = useVirtualizer({
    count: jobs.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 3,
    useFlushSync: false,
  });
  const nowMs = useShopNow(RENEW_MS);
  const zone = useZone();
  const [flying, onScroll] = useFlying();
  const seen = useSeen(jobs, rows.isScrolling, rows.getVirtualItems());
  useTableKeys(props, cursor, (next) => {
    setCursor(next);
    rows.scrollToIndex(next);
  });
  const latest = useRef({ jobs, selected, cursor, props });
  useEffect(() => {
    latest.current = { jobs, selected, cursor, props };
  });
  // These stay the same functions, so that a row is drawn again only when its own job has changed.
  const toggle = useCallback((job: JobItem, index: number, range: boolean): void => {
    const { jobs: all, selected: old, cursor: from, props: p } = latest.current;
    const next = new Set(old);
    if (range) for (const each of all.slice(Math.min(from, index), Math.max(from, index) + 1)) next.add(each.id);
    else if (next.has(job.id)) next.delete(job.id);
    else next.add(job.id);
    setCursor(index);
    p.onSelect(next);
  }, []);
  const open = useCallback((id: string, index: number): void => {
    setCursor(index);
    latest.current.props.onOpen(id);
  }, []);
  return (
    <div
      ref={scroller}
      onScroll={onScroll}
      className="min-h-0 flex-1 overflow-auto"
      role="grid"
      aria-label="Jobs"
      aria-rowcount={jobs.length}
      tabIndex={0}
    >
      <div
        className={`dense sticky top-0 z-10 grid min-w-[800px] ${COLUMNS} items-center gap-x-3 border-b border-rule bg-paper px-5 py-1.5 text-soft`}
        role="row"
      >
        <span role="columnheader">
          <input
            type="checkbox"
            aria-label="Choose all that are shown"
            checked={jobs.length > 0 && jobs.every((job) => selected.has(job.id))}
            onChange={(event) => {
              props.onSelect(event.target.checked ? new Set(jobs.map((job) => job.id)) : new Set());
            }}
            className="size-4 accent-[var(--tide)]"
          />
        </span>
        <span role="columnheader" aria-label="Picture" />
        <span role="columnheader">Name</span>
        <span role="columnheader" className="text-right">
          Size, mm
        </span>
        <span role="columnheader" className="text-right">
          Pieces
        </span>
        <span role="columnheader">Due</span>
        <span role="columnheader">Findings</span>
        <span role="columnheader">State</span>
      </div>
      <TableMessage {...props} />
      <div role="rowgroup" className="relative min-w-[800px]" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((row) => {
          const job = jobs[row.index];
          return (
            job && (
              <JobRow
                key={row.index % SLOTS}
                job={job}
                top={row.start}
                index={row.index}
                queueName={queueNames.get(job.queueId) ?? ''}
                nowMs={nowMs}
                zone={zone}
                withPicture={!rows.isScrolling || seen.has(job.id)}
                light={flying && rows.isScrolling}
                selected={selected.has(job.id)}
                opened={job.id === opened}
                atCursor={row.index === cursor}
                onToggle={toggle}
                onOpen={open}
              />
            )
          );
        })}
      </div>
    </div>
  );
}

/** More than this between two frames is no reading speed: rows then show only what an eye can catch. */
const FLYING_PX = 280;

/** True while the table is being pulled past too fast to read. */
function useFlying(): [boolean, (event: React.UIEvent<HTMLElement>) => void] {
  const [flying, setFlying] = useState(false);
  const last = useRef(0);
  const onScroll = useCallback((event: React.UIEvent<HTMLElement>): void => {
    const top = event.currentTarget.scrollTop;
    setFlying(Math.abs(top - last.current) > FLYING_PX);
    last.current = top;
  }, []);
  return [flying, onScroll];
}

/** Jobs whose picture has been on the screen at rest; theirs is in the browser's cache. */
function useSeen(
  jobs: readonly JobItem[],
  scrolling: boolean,
  items: readonly { readonly index: number }[],
): ReadonlySet<string> {
  const [seen] = useState(() => new Set<string>());
  useEffect(() => {
    if (scrolling) return;
    for (const item of items) {
      const job = jobs[item.index];
      if (job) seen.add(job.id);
    }
  });
  return seen;
}

function TableMessage({ loading, failed, jobs, filtered }: JobTableProps) {
  if (loading) return <p className="px-5 py-6 text-soft">Reading the jobs…</p>;
  if (failed)
    return (
      <p className="px-5 py-6 text-stop" role="alert">
        {errorText(failed)}
      </p>
    );
  if (jobs.length > 0) return null;
  return (
    <div className="px-5 py-10 text-soft">
      {filtered
        ? 'No job is like this. Take words out of the filter, or look at all of them.'
        : 'Nothing has arrived yet. Drop PDF, PNG or JPEG files on this window, or copy them into a hot folder.'}
    </div>
  );
}

function useTableKeys(props: JobTableProps, cursor: number, move: (index: number) => void): void {
  const latest = useRef({ props, cursor, move });
  useEffect(() => {
    latest.current = { props, cursor, move };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const { props: p, cursor: at, move: go } = latest.current;
      // The keys belong to the table even while a box in it has the focus.
      const inTable = event.target instanceof HTMLInputElement && event.target.type === 'checkbox';
      if (event.defaultPrevented || (isTyping(event.target) && !inTable)) return;
      // A focused button or link keeps the keys that press it.
      const presses = event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement;
      const job = p.jobs[at];
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (step !== 0) {
        event.preventDefault();
        const next = Math.min(p.jobs.length - 1, Math.max(0, at + step));
        const target = p.jobs[next];
        if (event.shiftKey && job && target) p.onSelect(new Set([...p.selected, job.id, target.id]));
        go(next);
      } else if (event.key === ' ' && job && !inTable && !presses) {
        event.preventDefault();
        const next = new Set(p.selected);
        if (!next.delete(job.id)) next.add(job.id);
        p.onSelect(next);
      } else if (event.key === 'Enter' && job && !presses) p.onOpen(job.id);
      else if (event.key === 'Escape') {
        p.onSelect(new Set());
        p.onOpen(null);
      } else if (event.key === 'l' && !event.ctrlKey) p.onLayOut();
      else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        p.onSelect(new Set(p.jobs.map((each) => each.id)));
      }
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, []);
}
