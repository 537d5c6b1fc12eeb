/** @jest-environment jsdom */
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Column, DataTable } from './DataTable.tsx';

afterEach(cleanup);

interface Roll {
  readonly id: string;
  readonly metres: number;
}

const ROLLS: readonly Roll[] = [
  { id: 'SP-10', metres: 9 },
  { id: 'SP-2', metres: 50 },
  { id: 'SP-1', metres: 12.5 },
];
const COLUMNS: readonly Column<Roll>[] = [
  { id: 'label', title: 'Label', sortBy: ({ id }) => id, cell: ({ id }) => id },
  { id: 'metres', title: 'Metres', right: true, sortBy: ({ metres }) => metres, cell: ({ metres }) => metres },
  { id: 'row', title: 'Row', cell: (_, index) => `row ${String(index)}` },
];

function table(rows: readonly Roll[] = ROLLS) {
  return (
    <DataTable label="Rolls" columns={COLUMNS} rows={rows} rowId={({ id }) => id} empty={<p>The rack is empty.</p>} />
  );
}

const shown = (): (string | null)[] =>
  within(screen.getByRole('table', { name: 'Rolls' }))
    .getAllByRole('row')
    .slice(1)
    .map((row) => row.querySelector('td')?.textContent ?? null);

const header = (name: RegExp): HTMLElement => screen.getByRole('columnheader', { name });

test('rows stand as they came, until a title is pressed: up, down, and as they came again', async () => {
  render(table());
  expect(shown()).toEqual(['SP-10', 'SP-2', 'SP-1']);
  await userEvent.click(screen.getByRole('button', { name: 'Metres' }));
  expect(shown()).toEqual(['SP-10', 'SP-1', 'SP-2']);
  expect(header(/Metres/).getAttribute('aria-sort')).toBe('ascending');
  await userEvent.click(screen.getByRole('button', { name: /Metres/ }));
  expect(shown()).toEqual(['SP-2', 'SP-1', 'SP-10']);
  expect(header(/Metres/).getAttribute('aria-sort')).toBe('descending');
  await userEvent.click(screen.getByRole('button', { name: /Metres/ }));
  expect(shown()).toEqual(['SP-10', 'SP-2', 'SP-1']);
  expect(header(/Metres/).getAttribute('aria-sort')).toBeNull();
});

test('numbers within names are put in order as people count', async () => {
  render(table());
  await userEvent.click(screen.getByRole('button', { name: 'Label' }));
  expect(shown()).toEqual(['SP-1', 'SP-2', 'SP-10']);
});

test('a sorted row still knows its place among the rows that were given', async () => {
  render(table());
  await userEvent.click(screen.getByRole('button', { name: 'Label' }));
  const [, first] = screen.getAllByRole('row');
  expect(first?.textContent).toBe('SP-112.5row 2');
});

test('a column that says nothing to sort by has no button; new rows take their place in the order', async () => {
  const { rerender } = render(table());
  expect(screen.queryByRole('button', { name: 'Row' })).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'Metres' }));
  rerender(table([...ROLLS, { id: 'SP-3', metres: 10 }]));
  expect(shown()).toEqual(['SP-10', 'SP-3', 'SP-1', 'SP-2']);
});

test('without rows it says so', () => {
  render(table([]));
  expect(screen.getByText('The rack is empty.')).toBeTruthy();
});
