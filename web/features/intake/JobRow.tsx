import { memo } from 'react';
import { pictureUrl, type JobItem } from '../../api/data.ts';
import { dayAndTime } from '../../app/shopTime.ts';
import { FindingSign } from '../../draw/FindingSign.tsx';
import { StateWord } from '../../draw/StateShape.tsx';
import { number, sizeText } from '../../ui/Figure.tsx';
import { COLUMNS, ROW_PX } from './columns.ts';

export interface JobRowProps {
  readonly job: JobItem;
  readonly top: number;
  readonly index: number;
  readonly queueName: string;
  /** Renewed now and then by the table: a clock in every row would cost more than the row. */
  readonly nowMs: number | undefined;
  readonly zone: string;
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
  queueName,
  nowMs,
  zone,
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
  const [worst, ...others] = job.findings;
  const under = [job.customer, job.orderNo].filter(Boolean).join(', ');
  return (
    <div
      role="row"
      aria-selected={selected}
      aria-rowindex={index + 1}
      className={`absolute inset-x-0 grid contain-strict ${COLUMNS} items-center gap-x-3 border-b border-rule/60 px-5 ${selected ? 'bg-spool/20' : opened ? 'bg-rule/50' : 'hover:bg-rule/25'} ${atCursor ? 'shadow-[inset_3px_0_0_var(--tide)]' : ''}`}
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
      <span role="gridcell" className="flex h-11 items-center justify-center">
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
      <span role="gridcell" className="min-w-0">
        <span className="block truncate font-medium" title={job.sourceName}>
          {job.sourceName}
        </span>
        <span className="dense block truncate text-soft">
          {queueName}
          {under === '' ? '' : ` · ${under}`}
        </span>
      </span>
      <span role="gridcell" className="text-right">
        {job.widthMm === null || job.heightMm === null ? (
          <span className="text-soft">{number(job.bytes / 1024)} kB so far</span>
        ) : (
          <>
            <span className="block whitespace-nowrap">{sizeText(job.widthMm, job.heightMm)}</span>
            {(job.pages ?? 1) > 1 && <span className="dense block text-soft">{job.pages} pages</span>}
          </>
        )}
      </span>
      <span role="gridcell" className="text-right">
        {job.pages === null ? '' : number(job.copies * job.pages)}
      </span>
      <Due job={job} nowMs={nowMs} zone={zone} />
      <span role="gridcell" className="flex min-w-0 items-center gap-1.5">
        {worst && (
          <>
            <FindingSign severity={worst.severity} />
            <span className="dense line-clamp-2" title={job.findings.map((finding) => finding.text).join('\n')}>
              {worst.text}
              {others.length > 0 ? ` +${String(others.length)}` : ''}
            </span>
          </>
        )}
      </span>
      <JobStateWord job={job} />
    </div>
  );
});

function Due({
  job,
  nowMs: now,
  zone,
}: {
  readonly job: JobItem;
  readonly nowMs: number | undefined;
  readonly zone: string;
}) {
  if (job.dueMs === null) return <span role="gridcell" />;
  const late = now !== undefined && now > job.dueMs && job.state !== 'printed' && job.state !== 'cancelled';
  const [day, time] = dayAndTime(job.dueMs, now ?? job.dueMs, zone);
  return (
    <span role="gridcell" className={`min-w-0 ${late ? 'text-stop' : ''}`}>
      <span className="block truncate">{late ? 'late' : day}</span>
      <span className={`dense block truncate ${late ? '' : 'text-soft'}`}>{late ? `${day} ${time}` : time}</span>
    </span>
  );
}

function JobStateWord({ job }: { readonly job: JobItem }) {
  const { pieces } = job;
  const total = pieces.owed + pieces.placed + pieces.printing + pieces.printed;
  const counts: Readonly<Record<string, number>> = {
    placed: pieces.placed,
    printing: pieces.printing,
    printed: pieces.printed,
  };
  const done = counts[job.state];
  return (
    <span role="gridcell" className="min-w-0">
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
    </span>
  );
}
