import { eq } from 'drizzle-orm';
import Papa from 'papaparse';
import type { SpoolImportAnswer, StockTake } from '../../../contract/api/supply.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { spoolLedger } from '../../db/records.ts';
import { spools, stocks } from '../../db/schema.ts';
import { Refused, type Shop, newId, transact } from '../../shop.ts';
import { takeOffOrder } from './stockOrders.ts';

/** Less is no difference (mm). */
const SAME_MM = 0.5;

/**
 * Books what was counted on the rack against the ledgers, in one step with its reason. What went out between the look at the page and
 * the count stays gone: the difference is taken from what the page said.
 */
export function countStock(shop: Shop, { reason, counts }: StockTake, actor: Actor): number {
  if (reason.trim() === '') {
    throw new Refused(422, 'no-reason', 'A count needs its reason.', undefined, 'Say why there are differences.');
  }
  const changed = transact(shop, (work) => {
    const booked: { spoolId: string; mm: number }[] = [];
    for (const { spoolId, leftMm, expectedMm } of counts) {
      const [spool] = spoolViews(work.tx, { id: spoolId });
      if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${spoolId}.`);
      const mm = leftMm - expectedMm;
      if (Math.abs(mm) < SAME_MM) continue;
      work.tx
        .insert(spoolLedger)
        .values({ spoolId, kind: 'correction', mm, atMs: work.nowMs, reason: `counted: ${reason.trim()}` })
        .run();
      booked.push({ spoolId, mm });
      work.touch({ type: 'spool', id: spoolId });
      if (spool.printerId !== null) work.touch({ type: 'printer', id: spool.printerId });
    }
    work.note({
      kind: 'stock.counted',
      subject: ['shop', 'spools'],
      actor,
      data: {
        spools: counts.length,
        differences: booked.length,
        mm: booked.reduce((sum, { mm }) => sum + mm, 0),
        reason: reason.trim(),
      },
      ...(booked.length > 0 && {
        undo: {
          label: 'Undo',
          method: 'POST' as const,
          path: '/api/stock-takes',
          body: {
            reason: 'count undone',
            counts: booked.map(({ spoolId, mm }) => ({ spoolId, leftMm: 0, expectedMm: mm })),
          },
        },
      }),
    });
    return booked.length;
  });
  shop.wakeDispatcher();
  return changed;
}

interface ImportRow {
  readonly stock: string;
  readonly label: string;
  readonly lot: string;
  readonly length: string;
  readonly width: string;
  readonly place: string;
  readonly kind: string;
}

const NEEDED = ['stock', 'label', 'length'] as const;
const METRES = /^([\d.,]+)\s*(mm|cm|m)?$/;
const UNIT_MM: Readonly<Record<string, number>> = { mm: 1, cm: 10, m: 1000 };

/** A length as a list has it: metres unless it says otherwise; a comma is a decimal point. */
function lengthOf(text: string): number | undefined {
  const [, figure, unit = 'm'] = METRES.exec(text.trim()) ?? [];
  const value = Number(figure?.replace(',', '.'));
  const mm = value * (UNIT_MM[unit] ?? NaN);
  return Number.isFinite(mm) && mm > 0 && mm <= 1e8 ? mm : undefined;
}

/**
 * Spools as a list brings them: every sound row is received, the others are said with their reason. Sent again, rows that are in
 * already are refused by their labels, so that nothing comes twice.
 */
export function importSpools(shop: Shop, csv: string, isPreview: boolean, actor: Actor): SpoolImportAnswer {
  const parsed = Papa.parse<Partial<ImportRow>>(csv.trim(), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (name) => name.trim().toLowerCase(),
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
    const { tx } = work;
    const known = tx.select().from(stocks).all();
    const seen = new Set<string>();
    const rows = parsed.data.map((row, i) => {
      const [stockName = '', label = ''] = [row.stock?.trim(), row.label?.trim()];
      const stock = known.find(({ id, name }) => id === stockName || name.toLowerCase() === stockName.toLowerCase());
      const sheets = stock?.sheetMm != null ? Number(row.length) * stock.sheetMm : undefined;
      const lengthMm = sheets ?? lengthOf(row.length ?? '');
      const widthMm = row.width?.trim() ? lengthOf(`${row.width.trim()}${/[a-z]/.test(row.width) ? '' : 'mm'}`) : null;
      const trouble = !stock
        ? `There is no stock ${stockName}.`
        : label === '' || label.length > 40
          ? 'A label has 1 to 40 characters.'
          : seen.has(label) || tx.select().from(spools).where(eq(spools.label, label)).get()
            ? `A spool is labelled ${label} already.`
            : lengthMm === undefined || !(lengthMm > 0)
              ? `${row.length ?? ''} is no length.`
              : widthMm === undefined
                ? `${row.width ?? ''} is no width.`
                : null;
      seen.add(label);
      return {
        row: i + 2,
        stock: stock?.name ?? stockName,
        label,
        lengthMm: lengthMm ?? null,
        trouble,
        raw: row,
        widthMm,
        of: stock,
      };
    });
    let received = 0;
    for (const { trouble, of: stock, raw, label, lengthMm, widthMm } of rows) {
      if (trouble !== null || isPreview || !stock || lengthMm === null) continue;
      const id = newId('spool');
      const kind = stock.form === 'roll' ? (raw.kind?.trim() === 'offcut' ? 'offcut' : 'roll') : 'pack';
      tx.insert(spools)
        .values({
          id,
          label,
          lot: raw.lot?.trim() ?? '',
          stockId: stock.id,
          kind,
          widthMm: widthMm ?? null,
          place: raw.place?.trim() || 'rack',
        })
        .run();
      tx.insert(spoolLedger).values({ spoolId: id, kind: 'received', mm: lengthMm, atMs: work.nowMs }).run();
      if (kind !== 'offcut') takeOffOrder(work, stock.id, lengthMm);
      work.touch({ type: 'spool', id });
      work.note({
        kind: 'spool.received',
        subject: ['spool', id],
        actor,
        data: { spool: label, stock: stock.name, lengthMm },
      });
      received += 1;
    }
    return {
      rows: rows.map(({ row, stock, label, lengthMm, trouble }) => ({ row, stock, label, lengthMm, trouble })),
      received,
    };
  });
}
