import { parseLength } from '../units/length.ts';
import { parseDue } from './localTime.ts';
import { type NameContext } from './namePattern.ts';
import { parseScale } from './scaleText.ts';
import { PRIORITIES, type TicketPart } from './ticket.ts';

/** The fields of an open ticket: one row a file. Every value may come as text. */
export const ROW_FIELDS = [
  'file',
  'copies',
  'width',
  'height',
  'scale',
  'turn',
  'mirror',
  'bleed',
  'stock',
  'mode',
  'customer',
  'order',
  'due',
  'priority',
  'notes',
] as const;
export type RowField = (typeof ROW_FIELDS)[number];

export interface RowProblem {
  readonly field: string;
  readonly got: string;
  readonly why: string;
}

export interface Named {
  readonly id: string;
  readonly name: string;
}

export interface RowContext extends NameContext {
  readonly stocks: readonly Named[];
  readonly modes: readonly Named[];
}

export interface ReadRow {
  readonly file: string | undefined;
  readonly values: TicketPart;
  readonly problems: readonly RowProblem[];
}

/** Reads one row; whatever is wrong is named field by field. Empty fields say nothing. */
export function readRow(row: Readonly<Record<string, unknown>>, context: RowContext): ReadRow {
  const values: Record<string, unknown> = {};
  const problems: RowProblem[] = [];
  let file: string | undefined;
  const size: { widthMm: number | null; heightMm: number | null } = { widthMm: null, heightMm: null };
  for (const [rawField, raw] of Object.entries(row)) {
    const field = rawField.trim().toLowerCase();
    const got = textOf(raw);
    if (got === '') continue;
    const wrong = (why: string): void => {
      problems.push({ field, got: got.slice(0, 80), why });
    };
    const length = (): number | undefined => {
      const parsed = parseLength(got, context.unit);
      if (parsed.ok && parsed.value >= 1 && parsed.value <= 1e6) return parsed.value;
      wrong('a length is wanted, for instance 1200 mm or 38 in');
      return undefined;
    };
    switch (field as RowField) {
      case 'file':
        // Programs often write the whole path that a file had on their own machine: its name is what counts here.
        file = got.split(/[\\/]/).pop();
        if (file === undefined || /^\.{0,2}$/.test(file)) {
          wrong('the name of a file is wanted');
          file = undefined;
        }
        break;
      case 'copies':
        // JDF counts in decimals: 2.0 is two.
        if (/^\d+(\.0*)?$/.test(got) && Number(got) >= 1 && Number(got) <= 10_000) values.copies = Number(got);
        else wrong('a whole number from 1 to 10,000 is wanted');
        break;
      case 'width':
        size.widthMm = length() ?? null;
        break;
      case 'height':
        size.heightMm = length() ?? null;
        break;
      case 'scale': {
        const percent = parseScale(got);
        if (percent !== undefined) values.size = { kind: 'percent', x: percent, y: percent };
        else wrong('a percentage above 0 is wanted, or a scale like 1:10');
        break;
      }
      case 'turn':
        if (['0', '90', '180', '270'].includes(got)) values.turn = Number(got);
        else if (got.toLowerCase() === 'best') values.turn = 'best';
        else wrong('0, 90, 180, 270 or best is wanted');
        break;
      case 'mirror': {
        const yes = yesOrNo(got);
        if (yes === undefined) wrong('yes or no is wanted');
        else values.mirror = yes;
        break;
      }
      case 'bleed': {
        const parsed = parseLength(got, context.unit);
        if (parsed.ok && parsed.value >= 0 && parsed.value <= 500) values.bleedMm = parsed.value;
        else wrong('a length from 0 to 500 mm is wanted');
        break;
      }
      case 'stock':
        values.stockId = byName(context.stocks, got, wrong);
        break;
      case 'mode':
        values.modeId = byName(context.modes, got, wrong);
        break;
      case 'customer':
        values.customer = got.slice(0, 200);
        break;
      case 'order':
        values.orderNo = got.slice(0, 100);
        break;
      case 'due': {
        const dueMs = parseDue(got, context.zone, context.dayEndsAt);
        if (dueMs === undefined) wrong('a date is wanted, for instance 2026-10-08 or 2026-10-08T14:00');
        else values.dueMs = dueMs;
        break;
      }
      case 'priority': {
        const priority = PRIORITIES.find((each) => each === got.toLowerCase());
        if (priority) values.priority = priority;
        else wrong(`one of ${PRIORITIES.join(', ')} is wanted`);
        break;
      }
      case 'notes':
        values.notes = got.slice(0, 2000);
        break;
      default:
        wrong(`no such field; there are ${ROW_FIELDS.join(', ')}`);
    }
  }
  if (size.widthMm !== null || size.heightMm !== null) values.size = { kind: 'exact', ...size };
  const said = Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined));
  return { file, values: said, problems };
}

function textOf(raw: unknown): string {
  if (typeof raw === 'string') return raw.trim();
  if (typeof raw === 'number' || typeof raw === 'boolean') return String(raw);
  return raw === null || raw === undefined ? '' : JSON.stringify(raw);
}

function yesOrNo(text: string): boolean | undefined {
  if (/^(yes|true|1|x)$/i.test(text)) return true;
  return /^(no|false|0)$/i.test(text) ? false : undefined;
}

function byName(list: readonly Named[], got: string, wrong: (why: string) => void): string | undefined {
  const wanted = got.toLowerCase();
  const found = list.find((each) => each.id.toLowerCase() === wanted || each.name.toLowerCase() === wanted);
  if (!found) wrong(`not known here; there are ${list.map((each) => each.name).join(', ')}`);
  return found?.id;
}
