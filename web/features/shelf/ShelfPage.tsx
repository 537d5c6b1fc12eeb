import { PageError } from '../../ui/PageError.tsx';
import { FromWhat } from '../../ui/FromWhat.tsx';
import { sizeText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { Search } from 'lucide-react';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { RenderedData } from '../../../contract/api/shelf.ts';
import { errorText, getJson } from '../../api/client.ts';
import { type JobItem, pictureUrl, useJob } from '../../api/data.ts';
import { usePastJobs } from '../../api/pastJobs.ts';
import { dateText, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { useRoving } from '../../ui/useRoving.ts';
import { useSettled } from '../../ui/useSettled.ts';
import { ShelfSheet } from './ShelfSheet.tsx';

/** Printed work that is kept, by customer, to be printed again. */
export function ShelfPage() {
  const [query, setQuery] = useState('');
  const [params, setParams] = useSearchParams();
  const text = useSettled(query);
  const kept = usePastJobs({ which: 'kept', text, queueId: null });
  const { error } = kept;
  const chosenId = params.get('job');
  const listed = kept.items.find((job) => job.id === chosenId);
  // One that a link or a scanned code names need not be among those that were read so far.
  const { data: named } = useJob(listed ? null : chosenId);
  const chosen = listed ?? named;
  const list = useRef<HTMLElement>(null);
  const onKeyDown = useRoving(list);
  const choose = (id: string | null): void => {
    setParams(id === null ? {} : { job: id }, { replace: true });
  };
  if (error) return <PageError>{errorText(error)}</PageError>;
  return (
    <div className="flex h-full min-h-0">
      <section ref={list} onKeyDown={onKeyDown} className="min-w-0 flex-1 overflow-y-auto px-5 py-3.5">
        <header className="mb-3 flex flex-wrap items-center gap-4">
          <h1 className="text-lg font-semibold">Shelf</h1>
          <label className="relative">
            <Search size={16} aria-hidden="true" className="absolute top-2 left-2 text-soft" />
            <input
              type="search"
              aria-label="Search the Shelf"
              placeholder="Name, customer, order"
              value={query}
              onChange={(event) => {
                setQuery(event.target.value);
              }}
              className="h-8 w-72 rounded-md border border-rule bg-card pr-2 pl-8"
            />
          </label>
          <span className="text-soft" aria-live="polite">
            {number(kept.items.length)} {kept.hasMore ? 'shown so far' : kept.items.length === 1 ? 'job' : 'jobs'}
          </span>
          <Rendered />
        </header>
        {kept.tooShort && <p className="text-soft">Type at least three letters of a word.</p>}
        {!kept.loading && !kept.tooShort && kept.items.length === 0 && (
          <p className="text-soft">
            {text.trim() === ''
              ? 'Nothing is on the Shelf yet. What is printed stands here as its keep rule says, with its ticket, to be printed again.'
              : `Nothing on the Shelf is called “${text.trim()}”. Its customer, order, size and stock are searched too.`}
          </p>
        )}
        {byCustomer(kept.items).map(([customer, own]) => (
          <div key={customer} className="mb-4 border-t border-rule pt-2">
            <h2 className="mb-1.5 font-semibold">
              {customer} <span className="font-normal text-soft">{own.length}</span>
            </h2>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-2" aria-label={customer}>
              {own.map((job) => (
                <li key={job.id}>
                  <Kept
                    job={job}
                    on={job.id === chosen?.id}
                    onClick={() => {
                      choose(job.id === chosen?.id ? null : job.id);
                    }}
                  />
                </li>
              ))}
            </ul>
          </div>
        ))}
        {kept.hasMore && (
          <Button className="mb-4" onClick={kept.more}>
            Show older ones
          </Button>
        )}
      </section>
      {chosen && (
        <ShelfSheet
          key={chosen.id}
          job={chosen}
          onClose={() => {
            choose(null);
          }}
        />
      )}
    </div>
  );
}

function byCustomer(jobs: readonly JobItem[]): [string, JobItem[]][] {
  const groups = new Map<string, JobItem[]>();
  for (const job of jobs) {
    const customer = job.customer ?? 'No customer';
    const own = groups.get(customer);
    if (own) own.push(job);
    else groups.set(customer, [job]);
  }
  return [...groups].sort(([a], [b]) => a.localeCompare(b, 'en'));
}

/** A kept job with its picture, as large as on a rack card: most are found by how they look. */
function Kept({ job, on, onClick }: { readonly job: JobItem; readonly on: boolean; readonly onClick: () => void }) {
  const zone = useZone();
  return (
    <button
      type="button"
      data-rove
      aria-pressed={on}
      onClick={onClick}
      className="flex h-full w-full flex-col rounded-md border border-rule bg-card p-2 text-left hover:border-soft aria-pressed:border-ink aria-pressed:bg-spool/10"
    >
      <span className="mb-1.5 flex h-24 w-full items-center justify-center">
        <img
          src={pictureUrl(job.id, 0, 'thumb', job.look)}
          alt=""
          loading="lazy"
          decoding="async"
          className="max-h-24 max-w-full border border-rule object-contain"
        />
      </span>
      <span className="line-clamp-2 font-medium break-words" title={job.sourceName}>
        {job.sourceName}
      </span>
      <span className="dense text-soft">
        {job.widthMm === null || job.heightMm === null ? '' : `${sizeText(job.widthMm, job.heightMm)}, `}
        {number(job.pieces.printed)} printed
      </span>
      <span className="dense text-soft">{[job.orderNo, dateText(job.arrivedMs, zone)].filter(Boolean).join(', ')}</span>
    </button>
  );
}

const GIB = 1024 ** 3;

/** What rendered data takes; beyond its bound the longest unused goes, it can be made again. */
function Rendered() {
  const { data } = useSWR<RenderedData, Error>('/api/rendered', getJson<RenderedData>);
  if (!data) return null;
  const share = Math.min(1, data.bytes / data.mostBytes);
  return (
    <span className="ml-auto flex items-center gap-2 text-soft">
      <FromWhat text="Pictures and PDFs that were made of jobs. Beyond the bound the least recently used is removed; it can always be made again.">
        Rendered data
      </FromWhat>
      <span className="h-2 w-24 overflow-hidden rounded-sm border border-soft/60" aria-hidden="true">
        <span className="block h-full bg-tide" style={{ width: `${String(share * 100)}%` }} />
      </span>
      {data.bytes < GIB / 10 ? `${number(data.bytes / 1024 ** 2, 1)} MB` : `${number(data.bytes / GIB, 1)} GB`} of{' '}
      {number(data.mostBytes / GIB)} GB
    </span>
  );
}
