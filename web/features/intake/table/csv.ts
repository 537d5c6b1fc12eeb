import Papa from 'papaparse';
import type { JobItem } from '../../../api/data.ts';
import { COLUMNS, type CellContext } from './columns.tsx';

/** Jobs as CSV: every column there is, the chosen or not. A cell that a spreadsheet would take for a formula is defused. */
export function jobsAsCsv(jobs: readonly JobItem[], context: CellContext): string {
  const columns = COLUMNS.filter((column) => column.text !== undefined);
  return Papa.unparse(
    {
      fields: columns.map((column) => column.title),
      data: jobs.map((job) => columns.map((column) => column.text?.(job, context) ?? '')),
    },
    { escapeFormulae: true },
  );
}

/** Hands a text to the browser as a file. */
export function download(name: string, type: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
