import { memo } from 'react';
import type { JobItem } from '../../../api/data.ts';
import { chosenColumns, ROW_PX, type CellContext, type ColumnId } from './columns.tsx';

/** A row gets only what it shows: thousands of them scroll past. */
export interface JobRowProps {
  readonly job: JobItem;
  readonly top: number;
  readonly index: number;
  readonly columns: readonly ColumnId[];
  /** Renewed now and then by the table: a clock in every row would cost more than the row. */
  readonly context: CellContext;
  /** False while the table flies past: pictures nobody could see are not fetched. */
  readonly withPicture: boolean;
  /** Only the name, for a table that is flying past. */
  readonly light: boolean;
  readonly selected: boolean;
  readonly opened: boolean;
  readonly atCursor: boolean;
  readonly onToggle: (job: JobItem, index: number, range: boolean) => void;
  readonly onOpen: (id: string, index: number) => void;
}

export const JobRow = memo(function JobRow({
  job,
  top,
  index,
  columns,
  context,
  withPicture,
  light,
  selected,
  opened,
  atCursor,
  onToggle,
  onOpen,
}: JobRowProps) {
  if (light) {
    return (
      <div
        id={`row-${job.id}`}
        role="row"
        aria-rowindex={index + 1}
        className="absolute inset-x-0 border-b border-rule/60 contain-strict"
        style={{ height: ROW_PX, transform: `translateY(${top}px)` }}
      >
        <span role="gridcell" className="absolute top-4 left-32 whitespace-nowrap">
          {job.sourceName}
        </span>
      </div>
    );
  }
  return (
    <div
      id={`row-${job.id}`}
      role="row"
      aria-selected={selected}
      aria-rowindex={index + 1}
      className={`absolute inset-x-0 grid [grid-template-columns:var(--columns)] items-center gap-x-3 border-b border-rule/60 px-5 contain-strict ${selected ? 'bg-spool/20' : opened ? 'bg-rule/50' : 'hover:bg-rule/25'} ${atCursor ? 'shadow-[inset_3px_0_0_var(--tide)]' : ''}`}
      style={{ height: ROW_PX, transform: `translateY(${String(top)}px)` }}
      onClick={(event) => {
        if (event.shiftKey || event.ctrlKey || event.metaKey) onToggle(job, index, event.shiftKey);
        else onOpen(job.id, index);
      }}
    >
      <span role="gridcell">
        <input
          type="checkbox"
          aria-label={`Choose ${job.sourceName}`}
          checked={selected}
          disabled={job.state === 'arriving'}
          onClick={(event) => {
            event.stopPropagation();
          }}
          onChange={(event) => {
            onToggle(job, index, event.nativeEvent instanceof MouseEvent && event.nativeEvent.shiftKey);
          }}
          className="size-4 accent-[var(--tide)]"
        />
      </span>
      {chosenColumns(columns).map((column) => (
        <span key={column.id} role="gridcell" className={`min-w-0 ${column.right ? 'text-right' : ''}`}>
          {column.cell(job, context, withPicture)}
        </span>
      ))}
    </div>
  );
});
