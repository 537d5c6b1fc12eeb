import useSWR, { type SWRResponse } from 'swr';
import { Link } from 'react-router';
import type { JobCost, RunCost } from '../../contract/api/cost.ts';
import { getJson } from '../api/client.ts';
import { Row, Section } from '../ui/Sheet.tsx';
import { moneyText } from './money.ts';

const AGAIN_MS = 60_000;

/** What a run costs. @param version of its layout and state: with another it is asked for anew */
export function useRunCost(runId: string, version: string): SWRResponse<RunCost, Error> {
  return useSWR<RunCost, Error>(['run cost', runId, version], () => getJson<RunCost>(`/api/runs/${runId}/cost`), {
    keepPreviousData: true,
  });
}

/** What a run costs and what each of its jobs bears. Asked anew when the run changes. */
export function RunCostView({ runId, version }: { readonly runId: string; readonly version: string }) {
  const { data } = useRunCost(runId, version);
  if (!data || data.totalMinor === 0) return null;
  const money = (minor: number): string => moneyText(minor, data.currency);
  return (
    <Section title="Cost" aside={<span className="text-lg font-semibold">{money(data.totalMinor)}</span>}>
      <Row label="Media">{money(data.mediaMinor)}</Row>
      <Row label="Time">{money(data.timeMinor)}</Row>
      <Row label="Ink">{money(data.inkMinor)}</Row>
      <p className="dense mt-1 text-soft">
        {data.known ? 'As booked' : 'By the estimate'}. Media and time are shared by area, ink by what each job takes.
      </p>
      {data.jobs.length > 1 &&
        data.jobs.map(({ jobId, sourceName, pieces, minor }) => (
          <div key={jobId} className="flex items-baseline justify-between gap-2 py-0.5">
            <Link to={`/intake?job=${jobId}`} className="min-w-0 truncate hover:underline" title={sourceName}>
              {sourceName} <span className="text-soft">× {pieces}</span>
            </Link>
            <span>{money(minor)}</span>
          </div>
        ))}
    </Section>
  );
}

/** What a job has cost and will cost: its share of each run, and its own charges. */
export function JobCostView({ jobId, version }: { readonly jobId: string; readonly version: string }) {
  const { data } = useSWR<JobCost, Error>(
    ['job cost', jobId, version],
    () => getJson<JobCost>(`/api/jobs/${jobId}/cost`),
    { keepPreviousData: true, refreshInterval: AGAIN_MS },
  );
  if (!data || (data.runs.length === 0 && data.chargesMinor === 0)) return null;
  const money = (minor: number): string => moneyText(minor, data.currency);
  return (
    <Section title="Cost" aside={<span className="font-semibold">{money(data.totalMinor)}</span>}>
      {data.runs.map(({ runId, runName, known, pieces, minor }) => (
        <div key={runId} className="flex items-baseline justify-between gap-2 py-0.5">
          <Link to={`/bench/${runId}`} className="min-w-0 truncate hover:underline">
            {runName}{' '}
            <span className="text-soft">
              × {pieces}
              {known ? '' : ', by the estimate'}
            </span>
          </Link>
          <span>{money(minor)}</span>
        </div>
      ))}
      {data.olderRuns > 0 && <p className="text-wait">{data.olderRuns} older runs are not in this sum.</p>}
      {data.chargesMinor !== 0 && <Row label="Extra charges">{money(data.chargesMinor)}</Row>}
    </Section>
  );
}
