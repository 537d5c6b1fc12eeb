import Papa from 'papaparse';
import type { JobItem } from '../../../api/data.ts';
import { jobsAsCsv } from './csv.ts';
import { COLUMNS, chosenColumns, gridTemplate, isColumn, leastWidth } from './columns.tsx';

const CONTEXT = {
  nowMs: undefined,
  zone: 'UTC',
  words: { queue: () => 'Heron banners', stock: () => 'Mesh banner 1600', printerOf: () => 'Heron' },
};

function job(change: Partial<JobItem>): JobItem {
  return {
    seq: 1,
    id: 'job-1',
    queueId: 'heron-banners',
    sourceName: 'Tide.pdf',
    format: 'pdf',
    bytes: 1000,
    widthMm: 600,
    heightMm: 900.25,
    pages: 2,
    copies: 3,
    customer: 'Marram Theatre',
    orderNo: 'MT-93',
    dueMs: Date.UTC(2026, 9, 8, 14, 42),
    priority: 'normal',
    state: 'ready',
    stockId: 'mesh',
    modeId: 'fine',
    presetName: null,
    look: '',
    findings: [],
    arrivedMs: Date.UTC(2026, 9, 6),
    pieces: { owed: 6, placed: 0, printing: 0, printed: 0, spoiled: 0 },
    ...change,
  };
}

function rows(jobs: readonly JobItem[]): Record<string, string>[] {
  return Papa.parse<Record<string, string>>(jobsAsCsv(jobs, CONTEXT), { header: true }).data;
}

test('a CSV has every column that has words, whatever is shown, and reads back as it was', () => {
  const [row] = rows([job({ sourceName: 'Stall "A", north; 2.pdf', customer: 'Lantern\nStreet' })]);
  expect(Object.keys(row ?? {})).toEqual(COLUMNS.filter((column) => column.text).map((column) => column.title));
  expect(row).toMatchObject({ Name: 'Stall "A", north; 2.pdf', Customer: 'Lantern\nStreet' });
});

test.each(['=1+1', '+49 30', '-2', '@home', '\t=x'])('a name such as %j is no formula in a spreadsheet', (name) => {
  const [row] = rows([job({ sourceName: name })]);
  expect(row?.Name?.startsWith("'")).toBe(true);
});

test('columns: what a view names in an order is what is shown, with room for each; foreign names are no columns', () => {
  const ids = ['state', 'name'].filter(isColumn);
  expect(chosenColumns(ids).map((column) => column.id)).toEqual(expect.arrayContaining(['state', 'name']));
  expect(isColumn('colour of the moon')).toBe(false);
  expect(leastWidth(ids)).toBeGreaterThan(100);
  expect(leastWidth([...ids, 'customer'].filter(isColumn))).toBeGreaterThan(leastWidth(ids));
  expect(gridTemplate(ids).split(' ').length).toBeGreaterThanOrEqual(3);
});
