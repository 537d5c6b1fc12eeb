import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { sendJson } from '../../api/client.ts';
import { useJobs, useQueues, type RunDetail } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { DropZone } from './DropZone.tsx';
import { FilterBar } from './FilterBar.tsx';
import { JobSheet } from './JobSheet.tsx';
import { JobTable } from './JobTable.tsx';
import { Refusals } from './Refusals.tsx';
import { SelectionBar } from './SelectionBar.tsx';
import { filterJobs, NO_FILTER, type JobFilter } from './filter.ts';

export function IntakePage() {
  const jobs = useJobs();
  const { data: queues } = useQueues();
  const [filter, setFilter] = useState<JobFilter>(NO_FILTER);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [params, setParams] = useSearchParams();
  const { tell } = useNotice();
  const navigate = useNavigate();
  const opened = params.get('job');
  const open = useCallback(
    (id: string | null) => {
      setParams(id === null ? {} : { job: id }, { replace: true });
    },
    [setParams],
  );
  const all = useMemo(() => [...(jobs.data ?? [])].reverse(), [jobs.data]);
  const shown = useMemo(() => filterJobs(all, filter), [all, filter]);
  const chosen = useMemo(() => all.filter((job) => selected.has(job.id)), [all, selected]);
  const layOut = useCallback(() => {
    if (chosen.length === 0) return;
    sendJson<RunDetail>('POST', '/api/runs', { jobIds: chosen.map((job) => job.id) })
      .then((run) => navigate(`/bench/${run.id}`))
      .catch(tell);
  }, [chosen, navigate, tell]);
  return (
    <DropZone queues={queues ?? []}>
      <div className="flex h-full min-h-0">
        <section className="flex min-w-0 flex-1 flex-col">
          <Refusals />
          <FilterBar filter={filter} onFilter={setFilter} jobs={all} shown={shown.length} queues={queues ?? []} />
          <JobTable
            jobs={shown}
            queues={queues ?? []}
            loading={jobs.data === undefined && !jobs.error}
            failed={jobs.error}
            filtered={shown.length < all.length}
            selected={selected}
            onSelect={setSelected}
            opened={opened}
            onOpen={open}
            onLayOut={layOut}
          />
          {chosen.length > 0 && (
            <SelectionBar
              jobs={chosen}
              queues={queues ?? []}
              onLayOut={layOut}
              onClear={() => {
                setSelected(new Set());
              }}
            />
          )}
        </section>
        {opened !== null && (
          <JobSheet
            key={opened}
            jobId={opened}
            queues={queues ?? []}
            onClose={() => {
              open(null);
            }}
          />
        )}
      </div>
    </DropZone>
  );
}
