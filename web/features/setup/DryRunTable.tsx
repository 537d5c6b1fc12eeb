import { counted } from '../../ui/text/counted.ts';
import { useState } from 'react';
import type { DryRun } from '../../../contract/api/shop.ts';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';

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
          <span className="font-semibold">{moves.length}</span> of {counted(tried.jobs.length, 'job')} would go
          elsewhere: {current} that wait now, {tried.jobs.length - current} of the last 30 days. Nothing was moved.
        </p>
        <Checkbox text="only those" value={onlyMoved} onChange={setOnlyMoved} className="text-soft" />
      </div>
      <DataTable
        label="Jobs of the dry run"
        columns={COLUMNS}
        rows={shown}
        rowId={({ jobId }) => jobId}
        empty={<p className="text-soft">Everything stays where it is.</p>}
      />
    </section>
  );
}

/** A job as it is beside where the rules would have put it, and which rule says so. */
const COLUMNS: readonly Column<DryRun['jobs'][number]>[] = [
  {
    id: 'job',
    title: 'Job',
    className: 'max-w-72 truncate',
    sortBy: ({ sourceName }) => sourceName,
    cell: ({ sourceName, current }) => (
      <span title={sourceName}>
        {sourceName}
        {current ? '' : <span className="text-soft">, earlier</span>}
      </span>
    ),
  },
  { id: 'from', title: 'is on', sortBy: ({ printerName }) => printerName, cell: ({ printerName }) => printerName },
  {
    id: 'to',
    title: 'would go to',
    sortBy: ({ toPrinterName }) => toPrinterName ?? '',
    cell: ({ toPrinterName, passedOver }) => (
      <>
        {toPrinterName === null ? (
          <span className="text-soft">stays</span>
        ) : (
          <span className="font-medium">{toPrinterName}</span>
        )}
        {passedOver.length > 0 && <span className="text-soft">, since {passedOver.join(' and ')} can’t</span>}
      </>
    ),
  },
  {
    id: 'by',
    title: 'by',
    className: 'text-soft',
    sortBy: ({ ruleName }) => ruleName ?? '',
    cell: ({ ruleName }) => ruleName ?? 'no rule',
  },
];
