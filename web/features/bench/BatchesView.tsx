import { Figure } from '../../ui/Figure.tsx';
import { alongFigure, alongText, acrossText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { BatchProposal, BatchesAnswer } from '../../../contract/api/batch.ts';
import { errorText, sendJson } from '../../api/client.ts';
import type { RunDetail } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { May } from '../../people/May.tsx';

/** What a batch has to save to be worth touching several jobs for (mm). */
const WORTH_MM = 100;

/** What could run together of everything that waits: each is taken as it is, taken with fewer jobs, or left. */
export function BatchesView() {
  const [leastMm, setLeastMm] = useState(WORTH_MM);
  const { data, error, isValidating, mutate } = useSWR<BatchesAnswer, Error>(
    `/api/batches?leastMm=${String(leastMm)}`,
    {
      revalidateOnFocus: false,
      keepPreviousData: true,
    },
  );
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const shown = (data?.batches ?? []).filter((batch) => !left.has(keyOf(batch)));
  const saved = shown.reduce((sum, batch) => sum + batch.aloneMm - batch.lengthMm, 0);
  return (
    <section className="min-w-0 flex-1 overflow-y-auto px-6 py-4" aria-label="Batches proposed">
      <header className="mb-4 flex items-baseline gap-4">
        <h1 className="text-lg font-semibold">What could run together</h1>
        <Button
          kind="quiet"
          disabled={isValidating}
          onClick={() => {
            setLeft(new Set());
            void mutate();
          }}
        >
          {isValidating ? 'Nesting …' : 'Propose again'}
        </Button>
      </header>
      {error && (
        <p className="text-stop" role="alert">
          {errorText(error)}
        </p>
      )}
      {!data && !error && <p className="text-soft">Nesting everything that waits, together and alone …</p>}
      {data && (
        <p className="mb-4 text-soft" data-testid="batches-total">
          {number(data.waiting)} {data.waiting === 1 ? 'job waits' : 'jobs wait'}.{' '}
          {shown.length === 0
            ? 'No batch would save anything.'
            : `${number(shown.length)} ${shown.length === 1 ? 'batch saves' : 'batches save'} ${alongText(saved)} of media against running each job alone${changeOverText(data)}.`}
        </p>
      )}
      {data && data.small.count > 0 && (
        <p className="mb-4 text-soft">
          {number(data.small.count)} more would save less than {acrossText(leastMm)} each.{' '}
          <button
            type="button"
            className="text-tide underline"
            onClick={() => {
              setLeastMm(0);
            }}
          >
            Show {data.small.count === 1 ? 'it' : 'them'}
          </button>
        </p>
      )}
      <div className="grid gap-4 xl:grid-cols-2">
        {shown.map((batch) => (
          <BatchCard
            key={keyOf(batch)}
            batch={batch}
            onLeave={() => {
              setLeft(new Set([...left, keyOf(batch)]));
            }}
          />
        ))}
      </div>
    </section>
  );
}

function changeOverText({ changeOversBefore: before, changeOversAfter: after }: BatchesAnswer): string {
  if (before === 0) return '';
  return `, and ${number(before - after)} of ${number(before)} changes of stock or mode against the order in which they came`;
}

function keyOf(batch: BatchProposal): string {
  return batch.jobs.map((job) => job.jobId).join();
}

/**
 * One proposed batch: what it saves against its jobs one by one, whose date it misses, and which jobs nearly belong to it.
 * Jobs can be left out before it is laid out.
 */
function BatchCard({ batch: whole, onLeave }: { readonly batch: BatchProposal; readonly onLeave: () => void }) {
  const navigate = useNavigate();
  const { tell } = useNotice();
  const now = useShopNow(30_000);
  const zone = useZone();
  const clock = (ms: number): string => (now === undefined ? '' : clockText(ms, now, zone));
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const taken = whole.jobs.filter((job) => !without.has(job.jobId));
  const changed = without.size > 0 && taken.length > 0;
  const figures = useSWR<BatchProposal, Error>(
    changed ? ['/api/batches/figures', ...taken.map((job) => job.jobId)] : null,
    () => sendJson<BatchProposal>('POST', '/api/batches/figures', { jobIds: taken.map((job) => job.jobId) }),
    { revalidateOnFocus: false, keepPreviousData: true },
  );
  const batch = (changed ? figures.data : undefined) ?? whole;
  const pending = changed && figures.isLoading;
  const late = new Map(batch.jobs.map((job) => [job.jobId, job.late]));
  const saved = batch.aloneMm - batch.lengthMm;
  const layOut = (): void => {
    setBusy(true);
    sendJson<RunDetail>('POST', '/api/runs', { jobIds: taken.map((job) => job.jobId) })
      .then((run) => navigate(`/bench/${run.id}`))
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  return (
    <article
      className="rounded-lg border border-rule bg-card p-4"
      aria-label={`Batch on ${batch.printerName}, ${batch.stockName}`}
    >
      <h2 className="font-semibold">{batch.stockName}</h2>
      <p className="mb-3 text-soft">
        {batch.printerName}, {batch.modeName}
      </p>
      {figures.error && changed && (
        <p className="mb-2 text-stop" role="alert">
          {errorText(figures.error)}
        </p>
      )}
      <div className={`mb-3 flex gap-6 ${pending ? 'opacity-50' : ''}`} aria-busy={pending}>
        <span>
          <Figure large value={alongFigure(saved).value} unit={`${alongFigure(saved).unit} saved`} />
          <span className="block text-soft">
            {alongText(batch.lengthMm)} instead of {alongText(batch.aloneMm)}
          </span>
        </span>
        <span>
          <Figure large value={durationText(batch.timeMs)} unit="" />
          <span className="block text-soft">done {clock(batch.endMs)}, after the line</span>
        </span>
      </div>
      <ul className="mb-2">
        {whole.jobs.map((job) => (
          <li key={job.jobId} className="flex items-baseline gap-2 border-t border-rule py-1">
            <input
              type="checkbox"
              aria-label={`With ${job.sourceName}`}
              checked={!without.has(job.jobId)}
              onChange={(event) => {
                const next = new Set(without);
                if (event.target.checked) next.delete(job.jobId);
                else next.add(job.jobId);
                setWithout(next);
              }}
              className="size-4 accent-[var(--tide)]"
            />
            <span className="min-w-0 flex-1 truncate" title={job.sourceName}>
              {job.sourceName}
            </span>
            <span className="text-soft">{number(job.pieces)} pcs</span>
            {job.dueMs !== null && (
              <DueText late={without.has(job.jobId) ? 'no' : late.get(job.jobId)} due={clock(job.dueMs)} />
            )}
          </li>
        ))}
      </ul>
      {whole.nearly.length > 0 && (
        <p className="mb-3 text-soft">
          Not with it:{' '}
          {whole.nearly
            .slice(0, 3)
            .map(({ sourceName, differs }) => `${sourceName} (other ${differs})`)
            .join(', ')}
          {whole.nearly.length > 3 ? ` and ${number(whole.nearly.length - 3)} more` : ''}
        </p>
      )}
      <div className="flex gap-2">
        <May right="coordinate">
          <Button kind="main" disabled={busy || taken.length === 0} onClick={layOut}>
            Lay out {taken.length === 1 ? '1 job' : `${number(taken.length)} jobs`}
          </Button>
        </May>
        <Button onClick={onLeave}>Not now</Button>
      </div>
    </article>
  );
}

/** A date that the batch makes somebody miss is the batch's fault; one that is missed anyway is not. */
function DueText({
  late,
  due,
}: {
  readonly late: BatchProposal['jobs'][number]['late'] | undefined;
  readonly due: string;
}) {
  if (late === 'with the batch') return <span className="font-medium text-stop">late with the batch, due {due}</span>;
  if (late === 'anyway') return <span className="text-wait">late anyway, due {due}</span>;
  return <span className="text-soft">due {due}</span>;
}
