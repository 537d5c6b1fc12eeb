import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { errorText } from '../../api/client.ts';
import type { JobItem, Queue } from '../../api/data.ts';
import { isTyping } from '../../app/useGlobalKeys.ts';
import { JobRow, ROW_PX } from './JobRow.tsx';

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

export const COLUMNS = 'grid-cols-[24px_52px_minmax(128px,2.2fr)_118px_52px_minmax(84px,1fr)_minmax(110px,1.6fr)_96px]';

export function JobTable(props: JobTableProps) {
  const { jobs, selected, opened } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [cursor, setCursor] = useState(0);
  const queueNames = new Map(props.queues.map((queue) => [queue.id, queue.name]));
  // The library's own warning is about memoising its functions, which are not passed on here.
  const rows = useVirtualizer({
    count: jobs.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  });
  useTableKeys(props, cursor, (next) => {
    setCursor(next);
    rows.scrollToIndex(next);
  });
  const toggle = (job: JobItem, index: number, range: boolean): void => {
    const next = new Set(selected);
    if (range) for (const each of jobs.slice(Math.min(cursor, index), Math.max(cursor, index) + 1)) next.add(each.id);
    else if (next.has(job.id)) next.delete(job.id);
    else next.add(job.id);
    setCursor(index);
    props.onSelect(next);
  };
  return (
    <div
      ref={scroller}
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
                key={job.id}
                job={job}
                top={row.start}
                index={row.index}
                queueName={queueNames.get(job.queueId) ?? ''}
                selected={selected.has(job.id)}
                opened={job.id === opened}
                atCursor={row.index === cursor}
                onToggle={toggle}
                onOpen={(id, index) => {
                  setCursor(index);
                  props.onOpen(id);
                }}
              />
            )
          );
        })}
      </div>
    </div>
  );
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
  latest.current = { props, cursor, move };
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const { props: p, cursor: at, move: go } = latest.current;
      // The keys belong to the table even while a box in it has the focus.
      const inTable = event.target instanceof HTMLInputElement && event.target.type === 'checkbox';
      if (isTyping(event.target) && !inTable) return;
      const job = p.jobs[at];
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (step !== 0) {
        event.preventDefault();
        const next = Math.min(p.jobs.length - 1, Math.max(0, at + step));
        const target = p.jobs[next];
        if (event.shiftKey && job && target) p.onSelect(new Set([...p.selected, job.id, target.id]));
        go(next);
      } else if (event.key === ' ' && job && !inTable) {
        event.preventDefault();
        const next = new Set(p.selected);
        if (!next.delete(job.id)) next.add(job.id);
        p.onSelect(next);
      } else if (event.key === 'Enter' && job && !(event.target instanceof HTMLButtonElement)) p.onOpen(job.id);
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
