import { useCallback, useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { endOfDay } from 'date-fns';
import { tz } from '@date-fns/tz';
import { sendJson } from '../../api/client.ts';
import { usePastJobs, type PastJobsWanted } from '../../api/pastJobs.ts';
import { useJobs, usePrinters, useQueues, useStocks, type JobItem, type RunDetail } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { dateText, useShopNow, useZone } from '../../app/shopTime.ts';
import { useSettled } from '../../ui/useSettled.ts';
import { download, jobsAsCsv } from './table/csv.ts';
import { DropZone } from './DropZone.tsx';
import { FilterBar } from './table/FilterBar.tsx';
import { JobSheet } from './sheet/JobSheet.tsx';
import { JobTable } from './table/JobTable.tsx';
import { Refusals } from './Refusals.tsx';
import { SelectionBar } from './SelectionBar.tsx';
import { SelectionSheet } from './sheet/SelectionSheet.tsx';
import { ViewBar } from './table/ViewBar.tsx';
import { filterJobs, isOfPast, type JobFilter, type JobWords, readyTexts, type Today } from './table/filter.ts';
import { type Sort, shopOf, sortJobs, tableRows } from './table/rows.ts';
import { useDatesAtRisk } from './table/datesAtRisk.ts';
import { useFilter } from './table/useFilter.ts';
import { PLAIN_VIEW, useViews } from './table/savedViews.ts';
import { useMay } from '../../people/May.tsx';

const NONE: readonly never[] = [];

/** The same list as long as what matters of it is the same: counters that tick must not sort ten thousand jobs anew. */
function useSteady<T>(list: readonly T[], matters: (item: T) => string): readonly T[] {
  const [kept, setKept] = useState(list);
  if (kept !== list && kept.map(matters).join('|') !== list.map(matters).join('|')) setKept(list);
  return kept;
}

const MINUTE = 60_000;
const RENEW_MS = 20_000;

/** What dates are judged by, anew each minute and when the lines of the printers have changed. */
function useToday(zone: string): Today {
  const nowMs = useShopNow(RENEW_MS) ?? 0;
  const late = useDatesAtRisk();
  const minute = Math.floor(nowMs / MINUTE);
  return useMemo(
    () => ({
      nowMs: minute * MINUTE,
      dayEndMs: endOfDay(minute * MINUTE, { in: tz(zone) }).getTime(),
      lateIds: new Set(late.map(({ jobId }) => jobId)),
    }),
    [minute, zone, late],
  );
}

const SLICE = 400;

/** Gets the words of all jobs ready while nothing else is to do, a few hundred at a time. */
function useQuietly(jobs: readonly JobItem[], words: JobWords): void {
  useEffect(() => {
    let from = 0;
    const more = (): void => {
      readyTexts(jobs.slice(from, from + SLICE), words);
      from += SLICE;
      if (from < jobs.length) handle = requestIdleCallback(more);
    };
    let handle = requestIdleCallback(more);
    return () => {
      cancelIdleCallback(handle);
    };
  }, [jobs, words]);
}

function pastWanted({ show, queueId }: JobFilter, text: string): PastJobsWanted | null {
  return isOfPast(show) ? { which: 'past', text, queueId } : null;
}

/** What an empty table says. */
function emptyText(filter: JobFilter, anyAtWork: boolean, tooShort: boolean): string {
  if (tooShort) return 'Type at least three letters of a word to search what has been printed.';
  if (filter.show === 'printed' && filter.text === '') return 'Nothing has been printed yet.';
  if (filter.text === '' && filter.queueId === null) {
    if (filter.show === 'late') return 'Nothing is late, and no run will be as the lines are now.';
    if (filter.show === 'due today') return 'Nothing else is due today.';
    if (filter.show === 'waits for me') return 'Nothing waits for a person.';
  }
  if (anyAtWork || filter.text !== '' || filter.queueId !== null || filter.show === 'printed') {
    return 'No job matches. Remove words from the filter, or show all jobs.';
  }
  return 'Nothing has arrived yet. Drop PDF, PNG, JPEG, TIFF or SVG files on this window, or copy them into a hot folder.';
}

/** Intake: every job that has come in, what is wrong with it, and the way from here into runs. */
export function IntakePage() {
  const jobs = useJobs();
  const { data: queues = NONE } = useQueues();
  const { data: printers = NONE } = usePrinters();
  const { data: stocks = NONE } = useStocks();
  const zone = useZone();
  const views = useViews();
  const { filter, columns } = views.view;
  const onFilter = useFilter(filter, views.show);
  const past = usePastJobs(pastWanted(filter, useSettled(filter.text)));
  // The past is read a page at a time, in the order of its arrival: sorted or grouped it would be only what was read so far.
  const ofPast = isOfPast(filter.show);
  const sort = ofPast ? PLAIN_VIEW.sort : views.view.sort;
  const group = ofPast ? 'none' : views.view.group;
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [editing, setEditing] = useState(false);
  const [params, setParams] = useSearchParams();
  const { tell } = useNotice();
  const navigate = useNavigate();
  const opened = params.get('job');
  const open = useCallback(
    (id: string | null) => {
      setEditing(false);
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          if (id === null) next.delete('job');
          else next.set('job', id);
          return next;
        },
        { replace: true },
      );
    },
    [setParams],
  );
  const steadyQueues = useSteady(queues, (each) => each.id + each.name + each.printerId);
  const steadyPrinters = useSteady(printers, (each) => each.id + each.name);
  const shop = useMemo(() => shopOf(steadyQueues, steadyPrinters, stocks), [steadyQueues, steadyPrinters, stocks]);
  const atWork = useMemo(() => [...(jobs.data ?? [])].reverse(), [jobs.data]);
  const sortedAtWork = useMemo(() => sortJobs(atWork, sort, shop.words), [atWork, sort, shop]);
  const today = useToday(zone);
  const found = useMemo(() => filterJobs(sortedAtWork, filter, shop.words, today), [sortedAtWork, filter, shop, today]);
  const pastItems = useSteady(past.items, (job) => `${job.id}${job.state}`);
  const shown = useMemo(
    () => (ofPast ? sortJobs([...found, ...pastItems], sort, shop.words) : found),
    [ofPast, found, pastItems, sort, shop],
  );
  const { rows, ordered } = useMemo(
    () => tableRows(shown, group, shop, (ms) => dateText(ms, zone)),
    [shown, group, shop, zone],
  );
  useQuietly(sortedAtWork, shop.words);
  const { show } = views;
  const onSort = useCallback(
    (next: Sort) => {
      show({ sort: next });
    },
    [show],
  );
  const chosen = useMemo(
    () => (selected.size === 0 ? [] : [...atWork, ...pastItems].filter((job) => selected.has(job.id))),
    [atWork, pastItems, selected],
  );
  // Beside a ticket, which has the whole fit list, the table does without its first line.
  const beside = opened !== null || editing;
  const narrow = useMemo(() => columns.filter((column) => column !== 'best'), [columns]);
  const mayLayOut = useMay('coordinate');
  const layOut = useCallback(() => {
    if (chosen.length === 0 || !mayLayOut) return;
    sendJson<RunDetail>('POST', '/api/runs', { jobIds: chosen.map((job) => job.id) })
      .then((run) => navigate(`/bench/${run.id}`))
      .catch(tell);
  }, [chosen, mayLayOut, navigate, tell]);
  return (
    <DropZone queues={queues}>
      <div className="flex h-full min-h-0">
        <section className="flex min-w-0 flex-1 flex-col max-phone:overflow-y-auto">
          <Refusals />
          <FilterBar
            filter={filter}
            onFilter={onFilter}
            jobs={atWork}
            shown={shown.length}
            more={past.hasMore}
            queues={queues}
            today={today}
          >
            <ViewBar
              views={views}
              onCsv={() => {
                download('jobs.csv', 'text/csv', jobsAsCsv(ordered, { nowMs: undefined, zone, words: shop.words }));
              }}
            />
          </FilterBar>
          <JobTable
            rows={rows}
            jobs={ordered}
            columns={beside ? narrow : columns}
            words={shop.words}
            sort={sort}
            onSort={ofPast ? undefined : onSort}
            onEnd={past.more}
            loading={(jobs.data === undefined && !jobs.error) || past.loading}
            failed={jobs.error ?? past.error}
            empty={emptyText(filter, atWork.length > 0, past.tooShort)}
            selected={selected}
            onSelect={setSelected}
            opened={opened}
            onOpen={open}
            onLayOut={layOut}
          />
          {chosen.length > 0 && (
            <SelectionBar
              jobs={chosen}
              shop={shop}
              onLayOut={layOut}
              onEdit={() => {
                open(null);
                setEditing(true);
              }}
              onClear={() => {
                setSelected(new Set());
                setEditing(false);
              }}
            />
          )}
        </section>
        {editing && chosen.length > 0 ? (
          <SelectionSheet
            jobs={chosen}
            queues={queues}
            onClose={() => {
              setEditing(false);
            }}
          />
        ) : (
          opened !== null && (
            <JobSheet
              key={opened}
              jobId={opened}
              queues={queues}
              onClose={() => {
                open(null);
              }}
            />
          )
        )}
      </div>
    </DropZone>
  );
}
