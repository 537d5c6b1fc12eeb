import { fieldUnit, sizeText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import type { ReactNode } from 'react';
import { pictureUrl, type JobItem } from '../../../api/data.ts';
import { dayAndTime, dayText } from '../../../app/shopTime.ts';
import { FindingSign } from '../../../draw/FindingSign.tsx';
import { StateWord } from '../../../draw/StateShape.tsx';
import { DueCell } from './DueCell.tsx';
import { useBestPrinter } from '../sheet/bestPrinter.ts';
import type { JobWords } from './filter.ts';
import { type SortBy, pieceTotal } from './rows.ts';

export const ROW_PX = 52;
export const GROUP_PX = 40;

/** What cells need beside the job; the same object for all rows of a drawing. */
export interface CellContext {
  readonly nowMs: number | undefined;
  readonly zone: string;
  readonly words: JobWords;
}

interface Column {
  readonly id: string;
  readonly title: string;
  /** For a CSS grid. */
  readonly width: string;
  readonly right?: boolean;
  readonly sort?: SortBy;
  readonly cell: (job: JobItem, context: CellContext, withPicture: boolean) => ReactNode;
  /** For CSV; a picture has none. */
  readonly text?: (job: JobItem, context: CellContext) => string;
}

function two(first: ReactNode, second: ReactNode): ReactNode {
  return (
    <>
      <span className="block truncate">{first}</span>
      <span className="dense block truncate text-soft">{second}</span>
    </>
  );
}

/** Every column that can be shown, in the order in which they stand; a view says which. */
const COLUMN_LIST = [
  {
    id: 'picture',
    title: '',
    width: '52px',
    cell: (job, _context, withPicture) => (
      <span className="flex h-11 items-center justify-center">
        {job.pages === null || !withPicture ? null : (
          <img
            src={pictureUrl(job.id, 0, 'thumb', job.look)}
            alt=""
            loading="lazy"
            decoding="async"
            className="max-h-11 max-w-[52px] border border-rule object-contain"
          />
        )}
      </span>
    ),
  },
  {
    id: 'name',
    title: 'Name',
    width: 'minmax(128px, 2.2fr)',
    sort: 'name',
    cell: (job, { words }) => {
      const under = [words.queue(job.queueId), job.customer, job.orderNo].filter(Boolean).join(' · ');
      return (
        <>
          <span className="block truncate font-medium" title={job.sourceName}>
            {job.priority === 'rush' || job.priority === 'high' ? (
              <span className="mr-1 rounded border border-ink bg-spool px-1 text-xs text-on-spool">{job.priority}</span>
            ) : null}
            {job.sourceName}
          </span>
          <span className="dense block truncate text-soft">{under}</span>
        </>
      );
    },
    text: (job) => job.sourceName,
  },
  {
    id: 'size',
    get title() {
      return `Size, ${fieldUnit()}`;
    },
    width: '118px',
    right: true,
    sort: 'size',
    cell: (job) =>
      job.widthMm === null || job.heightMm === null ? (
        <span className="text-soft">{number(job.bytes / 1024)} kB so far</span>
      ) : (
        <>
          <span className="block whitespace-nowrap">{sizeText(job.widthMm, job.heightMm, false)}</span>
          {(job.pages ?? 1) > 1 && <span className="dense block text-soft">{job.pages} pages</span>}
        </>
      ),
    text: (job) => `${String(job.widthMm ?? '')} x ${String(job.heightMm ?? '')}`,
  },
  {
    id: 'pieces',
    title: 'Pieces',
    width: '52px',
    right: true,
    sort: 'pieces',
    cell: (job) => (job.pages === null ? '' : number(pieceTotal(job))),
    text: (job) => String(pieceTotal(job)),
  },
  {
    id: 'area',
    title: 'm²',
    width: '56px',
    right: true,
    sort: 'size',
    cell: (job) => number((job.copies * (job.pages ?? 0) * (job.widthMm ?? 0) * (job.heightMm ?? 0)) / 1e6, 2),
    text: (job) => ((job.copies * (job.pages ?? 0) * (job.widthMm ?? 0) * (job.heightMm ?? 0)) / 1e6).toFixed(3),
  },
  {
    id: 'due',
    title: 'Due',
    width: 'minmax(84px, 1fr)',
    sort: 'due',
    cell: (job, { nowMs, zone }, seen) => <DueCell job={job} seen={seen} nowMs={nowMs} zone={zone} />,
    text: (job, { zone }) => (job.dueMs === null ? '' : dayText(job.dueMs, zone)),
  },
  {
    id: 'findings',
    title: 'Findings',
    width: 'minmax(110px, 1.6fr)',
    cell: ({ findings: [worst, ...others], findings }) =>
      worst && (
        <span className="flex min-w-0 items-center gap-1.5">
          <FindingSign severity={worst.severity} />
          <span className="dense line-clamp-2" title={findings.map((finding) => finding.text).join('\n')}>
            {worst.text}
            {others.length > 0 ? ` +${String(others.length)}` : ''}
          </span>
        </span>
      ),
    text: (job) => job.findings.map((finding) => `${finding.severity}: ${finding.text}`).join('; '),
  },
  {
    id: 'customer',
    title: 'Customer',
    width: 'minmax(100px, 1.2fr)',
    sort: 'customer',
    cell: (job) => <span className="line-clamp-2">{job.customer}</span>,
    text: (job) => job.customer ?? '',
  },
  {
    id: 'order',
    title: 'Order',
    width: 'minmax(72px, 0.8fr)',
    sort: 'order',
    cell: (job) => <span className="block truncate">{job.orderNo}</span>,
    text: (job) => job.orderNo ?? '',
  },
  {
    id: 'stock',
    title: 'Stock',
    width: 'minmax(96px, 1fr)',
    sort: 'stock',
    cell: (job, { words }) => <span className="line-clamp-2">{words.stock(job.stockId)}</span>,
    text: (job, { words }) => words.stock(job.stockId),
  },
  {
    id: 'printer',
    title: 'Printer',
    width: '72px',
    cell: (job, { words }) => words.printerOf(job.queueId),
    text: (job, { words }) => words.printerOf(job.queueId),
  },
  {
    id: 'best',
    title: 'Best printer',
    width: 'minmax(96px, 1fr)',
    cell: (job, _context, seen) => <BestPrinter job={job} seen={seen} />,
  },
  {
    id: 'priority',
    title: 'Priority',
    width: '64px',
    sort: 'priority',
    cell: (job) => job.priority,
    text: (job) => job.priority,
  },
  {
    id: 'arrived',
    title: 'Arrived',
    width: '92px',
    sort: 'arrived',
    cell: (job, { nowMs, zone }) => two(...dayAndTime(job.arrivedMs, nowMs ?? job.arrivedMs, zone)),
    text: (job, { zone }) => dayText(job.arrivedMs, zone),
  },
  {
    id: 'state',
    title: 'State',
    width: '96px',
    sort: 'state',
    cell: (job) => <JobStateWord job={job} />,
    text: (job) => job.state,
  },
] as const satisfies readonly Column[];

export type ColumnId = (typeof COLUMN_LIST)[number]['id'];
export const COLUMNS: readonly (Column & { readonly id: ColumnId })[] = COLUMN_LIST;
export const DEFAULT_COLUMNS: readonly ColumnId[] = [
  'picture',
  'name',
  'size',
  'pieces',
  'due',
  'findings',
  'best',
  'state',
];

/** Whether a kept view names a column that there still is. */
export function isColumn(id: string): id is ColumnId {
  return COLUMNS.some((column) => column.id === id);
}

/** The chosen columns in their usual order, whatever order they were chosen in. */
export function chosenColumns(ids: readonly ColumnId[]): readonly (Column & { readonly id: ColumnId })[] {
  return COLUMNS.filter((column) => ids.includes(column.id));
}

/** The widths of the chosen columns, with that of the box in front. */
export function gridTemplate(ids: readonly ColumnId[]): string {
  return ['24px', ...chosenColumns(ids).map((column) => column.width)].join(' ');
}

/** Columns need so much room before they scroll sideways. */
export function leastWidth(ids: readonly ColumnId[]): number {
  const px = chosenColumns(ids).reduce((sum, { width }) => sum + Number(/\d+/.exec(width)?.[0] ?? 60), 24);
  return px + ids.length * 12 + 40;
}

function BestPrinter({ job, seen }: { readonly job: JobItem; readonly seen: boolean }) {
  const first = useBestPrinter(job, seen);
  if (!first) return null;
  return (
    <span title={first.why} className={first.printerId === null ? 'text-stop' : ''}>
      {two(first.printerName, first.why)}
    </span>
  );
}

/** The state, and how many pieces of how many have come so far. */
function JobStateWord({ job }: { readonly job: JobItem }) {
  const { pieces } = job;
  const total = pieceTotal(job) - pieces.spoiled;
  const counts: Readonly<Record<string, number>> = {
    placed: pieces.placed,
    printing: pieces.printing,
    printed: pieces.printed,
  };
  const done = counts[job.state];
  return (
    <>
      <StateWord state={job.state} />
      {done !== undefined && done < total && (
        <span className="dense block pl-5 text-soft">
          {number(done)} of {number(total)}
        </span>
      )}
      {job.state === 'ready' && pieces.printed > 0 && (
        <span className="dense block pl-5 text-soft">
          {number(pieces.owed)} of {number(total)} owed
        </span>
      )}
    </>
  );
}
