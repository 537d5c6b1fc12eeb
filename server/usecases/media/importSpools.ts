import Papa from 'papaparse';
import { SPOOL_LIMITS, type SpoolCreate } from '../../../contract/api/media/media.ts';
import type { SpoolImportAnswer } from '../../../contract/api/media/supply.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { type LengthUnit, parseLength } from '../../../core/units/length.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { addSpool, isLabelTaken } from './spools.ts';

type StockRow = typeof stocks.$inferSelect;
type ImportRow = Partial<Record<'stock' | 'label' | 'lot' | 'length' | 'width' | 'place' | 'kind', string>>;

const NEEDED = ['stock', 'label', 'length'] as const;
/** A row of the list, read: what it brings, or what is wrong with it. */
interface ReadRow {
  readonly stock: StockRow | undefined;
  readonly label: string;
  readonly lengthMm: number | null;
  readonly spool: Omit<SpoolCreate, 'stockId'> | { readonly trouble: string };
}

/**
 * Spools as a list brings them: every sound row is received, the others are said with their reason. Sent again, rows that are in
 * already are refused by their labels, so that nothing comes twice.
 */
export function importSpools(shop: Shop, csv: string, isPreview: boolean, actor: Actor): SpoolImportAnswer {
  const parsed = Papa.parse<ImportRow>(csv.trim(), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim().toLowerCase(),
    transform: (value) => value.trim(),
  });
  const missing = NEEDED.filter((name) => !parsed.meta.fields?.includes(name));
  if (missing.length > 0) {
    throw new Refused(
      422,
      'columns',
      `The list lacks the column ${missing.join(' and ')}.`,
      undefined,
      'Its first line names the columns: stock, label, lot, length, width, place, kind.',
    );
  }
  return transact(shop, (work) => {
    const known = work.tx.select().from(stocks).all();
    const seen = new Set<string>();
    const rows = parsed.data.map((row) => {
      const read = readRow(work, known, row, seen);
      seen.add(read.label);
      return read;
    });
    let received = 0;
    for (const { stock, spool } of rows) {
      if (isPreview || !stock || 'trouble' in spool) continue;
      addSpool(work, stock, spool, actor);
      received += 1;
    }
    return {
      rows: rows.map(({ stock, label, lengthMm, spool }, i) => ({
        row: i + 2,
        stock: stock?.name ?? parsed.data[i]?.stock ?? '',
        sheetMm: stock?.sheetMm ?? null,
        label,
        lengthMm,
        trouble: 'trouble' in spool ? spool.trouble : null,
      })),
      received,
    };
  });
}

function readRow(work: Work, known: readonly StockRow[], row: ImportRow, seen: ReadonlySet<string>): ReadRow {
  const { stock: wanted = '', label = '', lot = '', length = '', width = '', place = '' } = row;
  const word = wanted.toLowerCase();
  const stock = known.find(
    ({ id, name, codes }) => id === wanted || [name, ...codes].some((each) => each.toLowerCase() === word),
  );
  const lengthMm = stock ? amountOf(length, stock) : undefined;
  const widthMm = width === '' ? undefined : lengthOf(width, 'mm');
  const read = (spool: ReadRow['spool']): ReadRow => ({ stock, label, lengthMm: lengthMm ?? null, spool });
  const no = (trouble: string): ReadRow => read({ trouble });
  if (!stock) return no(`There is no stock ${wanted}.`);
  if (label === '' || label.length > SPOOL_LIMITS.label)
    return no(`A label has 1 to ${String(SPOOL_LIMITS.label)} characters.`);
  if (seen.has(label) || isLabelTaken(work, label)) return no(`A spool is labelled ${label} already.`);
  if (lot.length > SPOOL_LIMITS.lot || place.length > SPOOL_LIMITS.place)
    return no('Its lot or its place is too long a text.');
  if (lengthMm === undefined) {
    return no(stock.sheetMm === null ? `${length} is no length.` : `${length} is no number of sheets.`);
  }
  if (width !== '' && widthMm === undefined) return no(`${width} is no width.`);
  const kind = row.kind === 'offcut' ? 'offcut' : 'roll';
  return read({
    ...{ label, lot, lengthMm, kind, place: place === '' ? 'rack' : place },
    ...(widthMm !== undefined && { widthMm }),
  });
}

/** What is received of a stock (mm): metres of a roll as long as no unit is said, a whole number of sheets. */
function amountOf(text: string, { sheetMm }: StockRow): number | undefined {
  if (sheetMm === null) return lengthOf(text, 'm');
  const sheets = Number(text);
  const mm = sheets * sheetMm;
  return Number.isInteger(sheets) && sheets > 0 && mm <= SPOOL_LIMITS.lengthMm ? mm : undefined;
}

function lengthOf(text: string, fallback: LengthUnit): number | undefined {
  const parsed = parseLength(text, fallback);
  return parsed.ok && parsed.value > 0 && parsed.value <= SPOOL_LIMITS.lengthMm ? parsed.value : undefined;
}
