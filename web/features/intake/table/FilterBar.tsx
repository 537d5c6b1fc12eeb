import { number } from '../../../ui/text/number.ts';
import { Search } from 'lucide-react';
import { memo, type ReactNode } from 'react';
import { QUERY_FIELDS } from '../../../../core/ticket/jobQuery.ts';
import type { JobItem, Queue } from '../../../api/data.ts';
import { belongs, isOfPast, type JobFilter, SHOWS, type Today } from './filter.ts';
import { Select } from '../../../ui/fields/Select.tsx';

interface FilterBarProps {
  readonly filter: JobFilter;
  readonly onFilter: (filter: JobFilter) => void;
  readonly jobs: readonly JobItem[];
  readonly shown: number;
  /** There are more than are shown. */
  readonly more: boolean;
  readonly queues: readonly Queue[];
  readonly today: Today;
  readonly children: ReactNode;
}

/** Which jobs are shown: by state, by queue, by words. */
export function FilterBar({ filter, onFilter, jobs, shown, more, queues, today, children }: FilterBarProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule px-5 py-2.5">
      <div className="flex flex-wrap gap-1" role="group" aria-label="Which jobs">
        {SHOWS.map((show) => (
          <button
            key={show}
            type="button"
            aria-pressed={filter.show === show}
            onClick={() => {
              onFilter({ ...filter, show });
            }}
            className="rounded-md border border-transparent px-2.5 py-1 text-soft hover:text-ink aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:font-medium aria-pressed:text-on-spool"
          >
            <span className="inline-block first-letter:uppercase">{show}</span>{' '}
            {!isOfPast(show) && <Count jobs={jobs} show={show} today={today} />}
          </button>
        ))}
      </div>
      <Select
        label="Queue"
        value={filter.queueId ?? ''}
        choices={[{ value: '', text: 'All queues' }, ...queues.map(({ id, name }) => ({ value: id, text: name }))]}
        className="h-8"
        onChange={(queueId) => {
          onFilter({ ...filter, queueId: queueId === '' ? null : queueId });
        }}
      />
      <label className="flex h-8 min-w-40 flex-1 items-center gap-2 rounded-md border border-rule bg-card px-2 focus-within:border-tide">
        <Search size={16} className="text-soft" aria-hidden="true" />
        <input
          type="search"
          aria-label="Filter jobs"
          placeholder="Name, customer, order, 600x900, finding:bleed"
          title={`Every word must be found. In one thing alone: ${QUERY_FIELDS.map((field) => `${field}:`).join(' ')}`}
          value={filter.text}
          onChange={(event) => {
            onFilter({ ...filter, text: event.target.value });
          }}
          className="w-full bg-transparent outline-none placeholder:text-soft"
        />
      </label>
      <span className="text-soft" aria-live="polite">
        {number(shown)} {more ? 'shown so far' : 'shown'}
      </span>
      {children}
    </div>
  );
}

/** Counted when the jobs change, not at every keystroke. */
const Count = memo(function Count({
  jobs,
  show,
  today,
}: {
  readonly jobs: readonly JobItem[];
  readonly show: JobFilter['show'];
  readonly today: Today;
}) {
  return <span>{number(jobs.filter((job) => belongs(job, show, today)).length)}</span>;
});
