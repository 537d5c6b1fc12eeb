import type { PaceAnswer } from '../../../contract/api/pace/pace.ts';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { type PaceMeasure, valueText } from './values.ts';

type Row = PaceAnswer['rows'][number];

/** What is compared side by side; for what has no idle hours other figures say more. */
const OF_PRINTERS = ['use', 'availability', 'area-run', 'good', 'waste', 'quality', 'cost', 'bias', 'failed'] as const;
const OF_OTHERS = ['run-hours', 'area-run', 'good', 'waste', 'quality', 'cost', 'cost-area', 'late', 'bias'] as const;

/** Printers, stocks, customers, queues or modes side by side; each opens to the runs that its figures are made of. */
export function PaceTable({
  answer,
  of,
  chosen,
  onOpen,
}: {
  readonly answer: PaceAnswer;
  readonly of: string;
  readonly chosen: string;
  readonly onOpen: (id: string, name: string) => void;
}) {
  const wanted: readonly string[] = of === 'printer' ? OF_PRINTERS : OF_OTHERS;
  const shown = [...new Set([...wanted, chosen])].flatMap((id): PaceMeasure[] => {
    const found = answer.measures.find((each) => each.id === id);
    // What only a printer has would be a column of dashes.
    const isKnown = answer.rows.some(({ values }) => values[id]?.value != null);
    return found && (isKnown || id !== chosen) ? [found] : [];
  });
  const rows = answer.rows.filter(({ values }) => shown.some(({ id }) => (values[id]?.numerator ?? 0) !== 0));
  const columns: readonly Column<Row>[] = [
    {
      id: 'name',
      title: of,
      sortBy: ({ keys }) => keys[0]?.name ?? '',
      cell: ({ keys }) => (
        <button
          type="button"
          onClick={() => {
            onOpen(keys[0]?.id ?? '', keys[0]?.name ?? '');
          }}
          className="text-left font-medium whitespace-nowrap underline decoration-rule underline-offset-4 hover:decoration-ink"
        >
          {keys[0]?.id === '' ? `no ${of}` : keys[0]?.name}
        </button>
      ),
    },
    ...shown.map((measure): Column<Row> => ({
      id: measure.id,
      title: measure.name,
      right: true,
      sortBy: ({ values }) => values[measure.id]?.value ?? -Infinity,
      cell: ({ values }) => valueText(measure, values[measure.id]?.value, answer.currency),
    })),
  ];
  return (
    <DataTable
      label={`By ${of}`}
      columns={columns}
      rows={rows}
      rowId={({ keys }) => keys[0]?.id ?? ''}
      empty={<p className="text-soft">Nothing happened in this time.</p>}
    />
  );
}
