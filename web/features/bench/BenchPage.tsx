import { useCallback, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { errorText } from '../../api/client.ts';
import { useRun, useRuns, type RunDetail } from '../../api/data.ts';
import { BatchesView } from './BatchesView.tsx';
import { BenchEditor } from './BenchEditor.tsx';
import { DraftList } from './DraftList.tsx';

/** The Bench: drafts and the line at the left, the run that the address names in the middle. */
export function BenchPage() {
  const { runId } = useParams();
  const [tab, setTab] = useState(0);
  const { data: runs } = useRuns();
  const navigate = useNavigate();
  const drafts = (runs ?? []).filter((run) => run.state === 'draft');
  const shownId = runId === 'batches' ? null : (runId ?? drafts[0]?.id ?? null);
  const { data: run, error, mutate } = useRun(shownId);
  const keep = useCallback((next: RunDetail) => void mutate(next, { revalidate: false }), [mutate]);
  return (
    <div className="flex h-full min-h-0">
      <DraftList drafts={drafts} runs={runs ?? []} shownId={shownId} />
      {runId === 'batches' ? (
        <BatchesView />
      ) : run ? (
        <BenchEditor
          key={`${run.id} ${run.pair?.id ?? ''}`}
          run={run}
          onSaved={keep}
          onLeft={() => void navigate('/bench')}
          tab={tab}
          onTab={setTab}
        />
      ) : (
        <section className="flex-1 p-8">
          <h1 className="text-lg font-semibold">Bench</h1>
          {error ? (
            <p className="mt-2 text-stop" role="alert">
              {errorText(error)}
            </p>
          ) : shownId !== null ? (
            <p className="mt-2 text-soft">Reading the run…</p>
          ) : (
            <p className="mt-2 max-w-md text-soft">
              Here pieces are laid out on the media, to scale. Nothing is waiting to be laid out: choose jobs in Intake,
              then “Lay out”, or{' '}
              <Link to="/bench/batches" className="text-tide underline">
                see what could run together
              </Link>
              .
            </p>
          )}
        </section>
      )}
    </div>
  );
}
