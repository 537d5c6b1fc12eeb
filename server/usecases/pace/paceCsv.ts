import Papa from 'papaparse';
import type { PaceAnswer } from '../../../contract/api/pace/pace.ts';

/** Figures as a table: keys, then each measure with its numerator and denominator. */
export function paceCsv({ measures, rows, total }: PaceAnswer): string {
  const keys = rows[0]?.keys.map(({ by }) => by) ?? [];
  const fields = [
    ...keys,
    ...measures.flatMap(({ name, unit }) => [unit === '' ? name : `${name} (${unit})`, `${name}: of`, `${name}: by`]),
  ];
  const cells = (values: PaceAnswer['total']): (number | string)[] =>
    measures.flatMap(({ id }) => {
      const own = values[id];
      return [own?.value ?? '', own?.numerator ?? '', own?.denominator ?? ''];
    });
  const data: (number | string)[][] = rows.map((row) => [...row.keys.map(({ name }) => name), ...cells(row.values)]);
  data.push([...keys.map((_, i) => (i === 0 ? 'all' : '')), ...cells(total)]);
  return Papa.unparse({ fields, data });
}
