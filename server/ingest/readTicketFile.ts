import Papa from 'papaparse';
import { SaxesParser } from 'saxes';
import { type ReadRow, type RowContext, readRow } from '../../core/ticket/ticketRow.ts';
import type { Limits } from '../limits.ts';
import { textEncoding } from '../files/textEncoding.ts';
import { jdfRow } from './jdf.ts';

export interface TicketRow extends ReadRow {
  /** As a person counts: the first row of data is 1. */
  readonly row: number;
}

export type TicketFile =
  { readonly ok: true; readonly rows: readonly TicketRow[] } | { readonly ok: false; readonly reason: string };

export const TICKET_ENDING = /\.(jdf|json|csv)$/i;
const MOST_ROWS = 20_000;

/** Reads a ticket: JDF (one file), JSON (one object, or a list), or CSV with a head line. What each row says wrong stays with it. */
export function readTicketFile(name: string, bytes: Buffer, context: RowContext, limits: Limits): TicketFile {
  if (bytes.length > limits.ticketBytes) {
    return refused(`The ticket has ${String(bytes.length)} bytes; ${String(limits.ticketBytes)} is the limit.`);
  }
  const text = ticketText(bytes);
  const ending = /\.(\w+)$/.exec(name)?.[1]?.toLowerCase();
  const raw = ending === 'csv' ? csvRows(text) : ending === 'json' ? jsonRows(text) : jdfRows(text, limits);
  if (!Array.isArray(raw)) return refused(raw.why);
  if (raw.length === 0) return refused('The ticket has no rows.');
  if (raw.length > MOST_ROWS)
    return refused(`The ticket has ${String(raw.length)} rows; ${String(MOST_ROWS)} is the limit.`);
  return { ok: true, rows: raw.map((row, index) => ({ ...readRow(row, context), row: index + 1 })) };
}

/** The letters of a ticket, in whatever encoding it is written. */
export function ticketText(bytes: Uint8Array): string {
  return new TextDecoder(textEncoding(bytes)).decode(bytes);
}

function refused(reason: string): TicketFile {
  return { ok: false, reason };
}

type Raw = Record<string, unknown>[] | { readonly why: string };

/** Rows of a CSV by its head line. Only broken quotes refuse the whole: what else is wrong stays with its row. */
function csvRows(text: string): Raw {
  const parsed = Papa.parse<Record<string, unknown>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (head) => head.trim().toLowerCase(),
  });
  const broken = parsed.errors.find((error) => error.type === 'Quotes');
  if (broken) return { why: `The CSV is damaged in row ${String((broken.row ?? 0) + 1)}: ${broken.message}` };
  return parsed.data.map((row) => {
    const { __parsed_extra: extra, ...rest } = row;
    return extra === undefined ? rest : { ...rest, 'more columns than the head line': JSON.stringify(extra) };
  });
}

function jsonRows(text: string): Raw {
  try {
    const value: unknown = JSON.parse(text);
    const list: unknown[] = Array.isArray(value) ? value : [value];
    if (list.every((row) => typeof row === 'object' && row !== null && !Array.isArray(row))) {
      return list as Record<string, unknown>[];
    }
    return { why: 'The JSON is not a ticket: it must be an object or a list of objects.' };
  } catch (error) {
    return { why: `The JSON cannot be read: ${error instanceof Error ? error.message.slice(0, 120) : 'damaged'}.` };
  }
}

function jdfRows(text: string, limits: Limits): Raw {
  try {
    const row = jdfRow(text, new SaxesParser({ xmlns: false }), limits.xmlDepth);
    return row ? [row] : { why: 'The XML is no JDF ticket: its first element is not JDF.' };
  } catch (error) {
    return { why: `The JDF cannot be read: ${error instanceof Error ? error.message.slice(0, 160) : 'damaged'}.` };
  }
}
