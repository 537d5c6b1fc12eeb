import { useState } from 'react';
import type { DryRun } from '../../../contract/api/shop.ts';

const SHOWN = 200;

/** What the rules would have done, job by job; nothing was moved. */
export function DryRunTable({ tried }: { readonly tried: DryRun }) {
  const [onlyMoved, setOnlyMoved] = useState(true);
  const moves = tried.jobs.filter((job) => job.toPrinterName !== null && job.toPrinterName !== job.printerName);
  const current = tried.jobs.filter((job) => job.current).length;
  const shown = (onlyMoved ? moves : tried.jobs).slice(0, SHOWN);
  return (
    <section className="mt-4" aria-label="Dry run">
      <div className="mb-1 flex flex-wrap items-baseline justify-between gap-3">
        <p>
          <span className="font-semibold">{moves.length}</span> of {tried.jobs.length} jobs would go elsewhere:{' '}
          {current} that wait now, {tried.jobs.length - current} of the last 30 days. Nothing was moved.
        </p>
        <label className="inline-flex items-center gap-1.5 text-soft">
          <input
            type="checkbox"
            checked={onlyMoved}
            onChange={(event) => {
              setOnlyMoved(event.target.checked);
            }}
            className="accent-tide"
          />
          only those
        </label>
      </div>
      <table className="w-full">
        <thead>
          <tr className="text-left text-soft">
            <th className="font-normal">Job</th>
            <th className="font-normal">is on</th>
            <th className="font-normal">would go to</th>
            <th className="font-normal">by</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((job) => (
            <tr key={job.jobId} className="border-t border-rule">
              <td className="max-w-72 truncate py-1 pr-3" title={job.sourceName}>
                {job.sourceName}
                {job.current ? '' : <span className="text-soft">, earlier</span>}
              </td>
              <td className="pr-3">{job.printerName}</td>
              <td className="pr-3 font-medium">
                {job.toPrinterName ?? <span className="font-normal text-soft">stays</span>}
                {job.passedOver.length > 0 && (
                  <span className="font-normal text-soft">, since {job.passedOver.join(' and ')} can’t</span>
                )}
              </td>
              <td className="text-soft">{job.ruleName ?? 'no rule'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.length === 0 && <p className="text-soft">Everything stays where it is.</p>}
    </section>
  );
}
