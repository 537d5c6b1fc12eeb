import {
  type ColumnDef,
  createSortedRowModel,
  type RowData,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useMemo, type ReactNode } from 'react';

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, basic: sortFn_basic },
});

export interface Column<R> {
  readonly id: string;
  readonly title: string;
  readonly right?: boolean;
  readonly className?: string;
  /** What rows are put in order by; left out: this column is not for that. */
  readonly sortBy?: (row: R) => string | number;
  readonly cell: (row: R, index: number) => ReactNode;
}

interface DataTableProps<R extends RowData> {
  readonly label: string;
  readonly columns: readonly Column<R>[];
  readonly rows: readonly R[];
  readonly rowId: (row: R) => string;
  /** Fields stand in it: cells are aligned at their upper edge, without lines between rows. */
  readonly editable?: boolean;
  /** Stands in place of the rows when there is none. */
  readonly empty?: ReactNode;
}

/**
 * A table of rows that are all at hand. A click on the title of a column that can be sorted by puts the rows in its order,
 * the next one the other way round, the third one as they came. Wide tables scroll sideways, the page does not.
 */
export function DataTable<R extends RowData>({
  label,
  columns,
  rows,
  rowId,
  editable = false,
  empty,
}: DataTableProps<R>) {
  const defs = useMemo(
    () =>
      columns.map(({ id, title, sortBy }): ColumnDef<typeof features, R> => ({
        id,
        header: title,
        accessorFn: sortBy ?? (() => undefined),
        enableSorting: sortBy !== undefined,
        sortDescFirst: false,
      })),
    [columns],
  );
  const data = useMemo(() => [...rows], [rows]);
  const table = useTable({ features, columns: defs, data, getRowId: rowId, enableMultiSort: false });
  const byId = new Map(columns.map((column) => [column.id, column]));
  const lookOf = (id: string): string =>
    `${byId.get(id)?.right === true ? 'text-right' : 'text-left'} ${byId.get(id)?.className ?? ''}`;
  return (
    <div className="overflow-x-auto">
      <table aria-label={label} className={editable ? '' : 'w-full'}>
        <thead>
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id}>
              {group.headers.map(({ id, column }) => {
                const sorted = column.getIsSorted();
                const { title = '' } = byId.get(id) ?? {};
                return (
                  <th
                    key={id}
                    scope="col"
                    aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : undefined}
                    className={`pr-2 pb-1 font-normal text-soft ${lookOf(id)}`}
                  >
                    {column.getCanSort() ? (
                      <button
                        type="button"
                        className={`hover:text-ink ${sorted === false ? '' : 'font-semibold text-ink'}`}
                        onClick={column.getToggleSortingHandler()}
                      >
                        {title}
                        {sorted === 'asc' ? ' ↑' : sorted === 'desc' ? ' ↓' : ''}
                      </button>
                    ) : title === '' ? (
                      <span className="sr-only">{id}</span>
                    ) : (
                      title
                    )}
                  </th>
                );
              })}
            </tr>
          ))}
        </thead>
        <tbody>
          {table.getRowModel().rows.map((row) => (
            <tr key={row.id} className={editable ? '' : 'border-t border-rule'}>
              {columns.map((column) => (
                <td key={column.id} className={`pr-2 ${editable ? 'py-0.5 align-top' : 'py-1'} ${lookOf(column.id)}`}>
                  {column.cell(row.original, row.index)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length === 0 && empty}
    </div>
  );
}
