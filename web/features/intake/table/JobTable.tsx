import { FromWhat } from '../../../ui/FromWhat.tsx';
import { number } from '../../../ui/text/number.ts';
import { counted } from '../../../ui/text/counted.ts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { errorText } from '../../../api/client.ts';
import type { JobItem } from '../../../api/data.ts';
import { isTyping } from '../../../ui/isTyping.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { useShopNow, useZone } from '../../../app/shopTime.ts';
import { JobRow } from './JobRow.tsx';
import { chosenColumns, type ColumnId, GROUP_PX, gridTemplate, leastWidth, ROW_PX } from './columns.tsx';
import type { JobWords } from './filter.ts';
import type { Sort, TableRow } from './rows.ts';

/** The table knows rows and where the cursor is; what is chosen and open belongs to the page. */
export interface JobTableProps {
  readonly rows: readonly TableRow[];
  /** The jobs of the rows, in their order. */
  readonly jobs: readonly JobItem[];
  readonly columns: readonly ColumnId[];
  readonly words: JobWords;
  readonly sort: Sort;
  /** Left out: the order is fixed. */
  readonly onSort: ((sort: Sort) => void) | undefined;
  /** The last rows have come into sight: there may be more to read. */
  readonly onEnd: () => void;
  readonly loading: boolean;
  readonly failed: Error | undefined;
  /** What is said when there is no row. */
  readonly empty: string;
  readonly selected: ReadonlySet<string>;
  readonly onSelect: (selected: ReadonlySet<string>) => void;
  readonly opened: string | null;
  readonly onOpen: (id: string | null) => void;
  readonly onLayOut: () => void;
}

/** More than can be on the screen with what is kept beyond it: rows are re-used, not made anew, while scrolling. */
const SLOTS = 64;
const RENEW_MS = 20_000;

/** Drawn again for other rows, not for each letter that is typed above it. */
export const JobTable = memo(function JobTable(props: JobTableProps) {
  const { rows, jobs, selected, opened, columns, words } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [cursor, setCursor] = useState(0);
  const grouped = rows.length !== jobs.length;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (rows[index]?.kind === 'group' ? GROUP_PX : ROW_PX),
    overscan: 3,
    useFlushSync: false,
  });
  // Heights are kept by index: other rows are other heights.
  useEffect(() => {
    if (grouped) virtual.measure();
  }, [virtual, rows, grouped]);
  const lastSeen = virtual.getVirtualItems().at(-1)?.index ?? 0;
  const { onEnd } = props;
  useEffect(() => {
    if (lastSeen >= rows.length - 10) onEnd();
  }, [lastSeen, rows.length, onEnd]);
  const nowMs = useShopNow(RENEW_MS);
  const zone = useZone();
  const context = useMemo(() => ({ nowMs, zone, words }), [nowMs, zone, words]);
  const [flying, onScroll] = useFlying();
  const seen = useSeen(rows, virtual.isScrolling, virtual.getVirtualItems());
  useTableKeys(props, cursor, (next) => {
    setCursor(next);
    virtual.scrollToIndex(grouped ? rows.findIndex((row) => row.kind === 'job' && row.index === next) : next);
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
  const atCursor = jobs[cursor];
  const inSight = virtual.getVirtualItems().some(({ index }) => {
    const row = rows[index];
    return row?.kind === 'job' && row.index === cursor;
  });
  const cursorId = atCursor && inSight ? `row-${atCursor.id}` : undefined;
  const style = { '--columns': gridTemplate(columns), minWidth: leastWidth(columns) } as React.CSSProperties;
  return (
    <div
      ref={scroller}
      onScroll={onScroll}
      className="min-h-0 flex-1 overflow-auto max-phone:min-h-[75%]"
      role="grid"
      aria-label="Jobs"
      aria-rowcount={jobs.length}
      aria-activedescendant={cursorId}
      tabIndex={0}
    >
      <HeadRow {...props} style={style} />
      <TableMessage {...props} />
      <div role="rowgroup" className="relative" style={{ ...style, height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          if (row.kind === 'group') return <GroupRow key={`group-${row.key}`} row={row} top={item.start} />;
          const { job, index } = row;
          return (
            <JobRow
              key={item.index % SLOTS}
              job={job}
              top={item.start}
              index={index}
              columns={columns}
              context={context}
              withPicture={!virtual.isScrolling || seen.has(job.id)}
              light={flying && virtual.isScrolling}
              selected={selected.has(job.id)}
              opened={job.id === opened}
              atCursor={index === cursor}
              onToggle={toggle}
              onOpen={open}
            />
          );
        })}
      </div>
    </div>
  );
});

function HeadRow({
  jobs,
  selected,
  onSelect,
  columns,
  sort,
  onSort,
  style,
}: JobTableProps & { readonly style: React.CSSProperties }) {
  return (
    <div
      className="dense sticky top-0 z-10 grid [grid-template-columns:var(--columns)] items-center gap-x-3 border-b border-rule bg-paper px-5 py-1.5 text-soft"
      style={style}
      role="row"
    >
      <span role="columnheader">
        <input
          type="checkbox"
          aria-label="Choose all that are shown"
          checked={jobs.length > 0 && jobs.every((job) => selected.has(job.id))}
          onChange={(event) => {
            onSelect(event.target.checked ? new Set(jobs.map((job) => job.id)) : new Set());
          }}
          className="size-4 accent-[var(--tide)]"
        />
      </span>
      {chosenColumns(columns).map(({ id, title, right, sort: by }) => (
        <span
          key={id}
          role="columnheader"
          aria-sort={by && sort.by === by ? (sort.down ? 'descending' : 'ascending') : undefined}
          className={right ? 'text-right' : ''}
        >
          {by && onSort ? (
            <button
              type="button"
              className={`hover:text-ink ${sort.by === by ? 'font-semibold text-ink' : ''}`}
              onClick={() => {
                onSort({ by, down: sort.by === by ? !sort.down : by === 'arrived' || by === 'priority' });
              }}
            >
              {title}
              {sort.by === by ? (sort.down ? ' ↓' : ' ↑') : ''}
            </button>
          ) : title === '' ? (
            <span className="sr-only">Picture</span>
          ) : (
            title
          )}
        </span>
      ))}
    </div>
  );
}

/** Head of a group with its sums. */
function GroupRow({ row, top }: { readonly row: Extract<TableRow, { kind: 'group' }>; readonly top: number }) {
  const { jobs, pieces, areaM2, hours } = row.totals;
  return (
    <div
      role="row"
      className="absolute inset-x-0 flex items-end gap-3 border-b border-ink/30 bg-paper px-5 pb-1.5"
      style={{ height: GROUP_PX, transform: `translateY(${String(top)}px)` }}
    >
      <span role="gridcell" className="flex w-full items-baseline gap-3">
        <span className="truncate font-semibold">{row.title}</span>
        <span className="text-soft">
          {counted(jobs, 'job')}, {counted(pieces, 'piece')}, {number(areaM2, 1)} m²
          {hours > 0 ? (
            <>
              {', '}
              <FromWhat text="Every piece laid without waste across the usable width of its printer, in its mode, before any nest.">
                about {durationText(hours * 3_600_000)}
              </FromWhat>
            </>
          ) : null}
        </span>
      </span>
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
  rows: readonly TableRow[],
  scrolling: boolean,
  items: readonly { readonly index: number }[],
): ReadonlySet<string> {
  const [seen] = useState(() => new Set<string>());
  useEffect(() => {
    if (scrolling) return;
    for (const item of items) {
      const row = rows[item.index];
      if (row?.kind === 'job') seen.add(row.job.id);
    }
  });
  return seen;
}

function TableMessage({ loading, failed, jobs, empty }: JobTableProps) {
  if (loading) return <p className="px-5 py-6 text-soft">Reading the jobs…</p>;
  if (failed)
    return (
      <p className="px-5 py-6 text-stop" role="alert">
        {errorText(failed)}
      </p>
    );
  if (jobs.length > 0) return null;
  return <div className="px-5 py-10 text-soft">{empty}</div>;
}

/** Keys of the table, wherever the focus is unless somebody is typing: a coordinator goes through a morning’s jobs with arrows. */
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
