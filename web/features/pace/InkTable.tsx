import useSWR from 'swr';
import type { PaceInk } from '../../../contract/api/pace/pace.ts';
import { errorText } from '../../api/client.ts';
import { moneyText } from '../../draw/money.ts';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { number } from '../../ui/text/number.ts';
import type { Period } from './periods.ts';
import { type PaceFilter, paceQuery } from './usePace.ts';

type Row = PaceInk['rows'][number];

/** Ink by channel and by what it was fired for. */
export function InkTable({ period, filter }: { readonly period: Period; readonly filter: PaceFilter }) {
  const { data, error } = useSWR<PaceInk, Error>(`/api/pace/ink?${paceQuery(period, '', filter)}`, {
    keepPreviousData: true,
  });
  if (error) return <p className="text-stop">{errorText(error)}</p>;
  if (!data) return <p className="text-soft">Reading …</p>;
  const sum = (of: (row: Row) => number): number => data.rows.reduce((all, row) => all + of(row), 0);
  const all = sum(({ allMl }) => allMl);
  const work = sum(({ workMl }) => workMl);
  return (
    <>
      {all > 0 && (
        <p className="mb-1 text-soft">
          {ml(all)} in all, {number((100 * work) / all, 1)} % of it in work;{' '}
          {moneyText(
            sum(({ costMinor }) => costMinor),
            data.currency,
          )}{' '}
          at what ink costs today. A run’s ink counts when it ends.
        </p>
      )}
      <DataTable
        label="By ink"
        columns={columnsOf(data.currency)}
        rows={data.rows}
        rowId={({ printerId, channelId }) => `${printerId}/${channelId}`}
        empty={<p className="text-soft">No ink was fired in this time.</p>}
      />
    </>
  );
}

const ml = (value: number): string => `${number(value, 1)} ml`;

const PURPOSES = [
  ['workMl', 'Work'],
  ['purgeMl', 'Purges'],
  ['cleanMl', 'Cleans'],
  ['checkMl', 'Checks'],
  ['otherMl', 'Other'],
  ['allMl', 'Together'],
] as const;

function columnsOf(currency: string): readonly Column<Row>[] {
  return [
    {
      id: 'printer',
      title: 'Printer',
      sortBy: ({ printerName }) => printerName,
      cell: ({ printerName }) => printerName,
    },
    {
      id: 'ink',
      title: 'Ink',
      sortBy: ({ channelName }) => channelName,
      cell: ({ channelName, colour }) => (
        <span className="inline-flex items-center gap-2 whitespace-nowrap">
          <span
            className="size-2.5 rounded-full border border-soft"
            style={{ background: colour ?? 'transparent' }}
            aria-hidden="true"
          />
          {channelName}
        </span>
      ),
    },
    ...PURPOSES.map(([id, title]): Column<Row> => ({
      ...{ id, title, right: true, sortBy: (row) => row[id] },
      cell: (row) => (row[id] < 0.005 ? <span className="text-soft">–</span> : ml(row[id])),
    })),
    {
      ...{ id: 'cost', title: 'Cost today', right: true, sortBy: ({ costMinor }) => costMinor },
      cell: ({ costMinor }) => moneyText(costMinor, currency),
    },
  ];
}
