import type { ApexOptions } from 'apexcharts';
import { type ReactNode, useMemo } from 'react';
import type { PaceAnswer } from '../../../contract/api/pace/pace.ts';
import { Chart } from '../../draw/Chart.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { type PaceMeasure, partsText, valueText } from './values.ts';

type Row = PaceAnswer['rows'][number];

/** One measure over time, as columns; the one before as a line. The same stands behind it as a table. */
export function PaceChart({
  measure,
  now,
  before,
  currency,
  children,
}: {
  readonly measure: PaceMeasure;
  readonly now: readonly Row[];
  readonly before: readonly Row[] | undefined;
  readonly currency: string;
  /** Another figure is chosen beside the heading. */
  readonly children: ReactNode;
}) {
  const options = useMemo(() => optionsOf(measure, now, before, currency), [measure, now, before, currency]);
  const columns: readonly Column<Row>[] = [
    { id: 'time', title: 'time', cell: ({ keys }) => keys[0]?.name ?? '' },
    {
      id: 'value',
      title: measure.name,
      right: true,
      sortBy: ({ values }) => values[measure.id]?.value ?? -Infinity,
      cell: ({ values }) => valueText(measure, values[measure.id]?.value, currency),
    },
    {
      id: 'parts',
      title: 'from',
      right: true,
      className: 'text-soft',
      cell: ({ values }) => {
        const own = values[measure.id];
        return own ? partsText(measure, own) : '';
      },
    },
  ];
  return (
    <section aria-label={`${measure.name} over time`} className="min-w-0">
      <div className="flex items-center gap-3">
        <h2 className="font-semibold whitespace-nowrap">{measure.name}</h2>
        <p className="min-w-0 flex-1 truncate text-soft" title={measure.words}>
          {measure.words}
        </p>
        {children}
      </div>
      <Chart options={options} label={`${measure.name} over time; the figures stand in the table below it.`} />
      <details>
        <summary className="text-tide">As a table</summary>
        <DataTable
          label={`${measure.name} over time, as a table`}
          columns={columns}
          rows={now}
          rowId={({ keys }) => keys.map(({ id }) => id).join(' ')}
        />
      </details>
    </section>
  );
}

function optionsOf(
  measure: PaceMeasure,
  now: readonly Row[],
  before: readonly Row[] | undefined,
  currency: string,
): ApexOptions {
  const scale = measure.unit === '%' ? 100 : measure.unit.startsWith('money') ? 0.01 : 1;
  const of = (rows: readonly Row[]): (number | null)[] =>
    rows.map(({ values }) => {
      const value = values[measure.id]?.value;
      return value === null || value === undefined ? null : Math.round(value * scale * 1000) / 1000;
    });
  const line = before === undefined ? [] : [{ name: 'before', type: 'line', data: of(before).slice(0, now.length) }];
  const text = (shown: number | null): string => (shown === null ? '–' : valueText(measure, shown / scale, currency));
  return {
    chart: {
      type: 'line',
      height: 230,
      animations: { enabled: false },
      toolbar: { show: false },
      zoom: { enabled: false },
      fontFamily: 'inherit',
      background: 'transparent',
    },
    series: [{ name: 'now', type: 'column', data: of(now) }, ...line],
    colors: ['#f2b90c', 'var(--tide)'],
    stroke: { width: [1, 2], colors: ['var(--ink)', 'var(--tide)'] },
    markers: { size: [0, now.length < 3 ? 4 : 0] },
    plotOptions: { bar: { columnWidth: now.length < 4 ? '24%' : '64%' } },
    legend: { show: false },
    dataLabels: { enabled: false },
    tooltip: { shared: true, intersect: false, y: { formatter: (shown: number) => text(shown) } },
    grid: { borderColor: 'var(--rule)', padding: { left: 8, right: 8 } },
    xaxis: {
      categories: now.map(({ keys }) => shortTime(keys[0]?.by ?? 'day', keys[0]?.name ?? '', now.length)),
      labels: { style: { colors: 'var(--soft)' }, rotate: 0, hideOverlappingLabels: true },
      axisBorder: { color: 'var(--rule)' },
      axisTicks: { color: 'var(--rule)' },
    },
    yaxis: {
      ...(measure.id === 'bias' ? {} : { min: 0 }),
      forceNiceScale: true,
      labels: { style: { colors: ['var(--soft)'] }, formatter: (shown: number) => text(shown) },
    },
  };
}

/** What has room below a column. */
function shortTime(by: string, name: string, count: number): string {
  const words = name.replace('Week of ', '').split(' ');
  if (by === 'hour') return words.at(-1) ?? name;
  if (by === 'month') return (words[0] ?? name).slice(0, 3);
  if (by === 'day' && count > 10) return words[1] ?? name;
  return `${words[0] ?? ''} ${words[1] ?? ''}`;
}
