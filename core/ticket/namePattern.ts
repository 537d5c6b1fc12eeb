import { type Result, ok, refuse } from '../result.ts';
import { LENGTH_UNITS, type LengthUnit, parseLength } from '../units/length.ts';
import { parseDue } from './localTime.ts';
import { parseScale } from './scaleText.ts';
import type { TicketPart } from './ticket.ts';

/** The named parts that a file name may carry, and what each looks like. */
const PARTS: Readonly<Record<string, string>> = {
  customer: '.+?',
  order: '.+?',
  notes: '.+?',
  any: '.*?',
  copies: '\\d{1,5}',
  width: '\\d+(?:[.,]\\d+)?',
  height: '\\d+(?:[.,]\\d+)?',
  unit: LENGTH_UNITS.join('|'),
  scale: '\\d{1,4} ?(?:[:_-]|zu|to|in) ?\\d{1,4}|\\d{1,5}(?:[.,]\\d+)? ?%',
  due: '\\d{4}-?\\d\\d-?\\d\\d(?:[T_ -]?\\d\\d[:.h-]?\\d\\d)?|\\d{1,2}\\.\\d{1,2}\\.\\d{4}',
};
export const NAME_PARTS = Object.keys(PARTS);

export interface NamePattern {
  readonly text: string;
  readonly expression: RegExp;
}

export type PatternRefusal =
  | { readonly code: 'empty' }
  | { readonly code: 'unknown-part'; readonly part: string }
  | { readonly code: 'part-twice'; readonly part: string }
  | { readonly code: 'brackets' };

/**
 * A pattern for file names without their ending: `{order}_{customer}_{copies}x_{width}x{height}{unit}[_{due}]`. What stands
 * in square brackets may be missing; everything else is meant as it is written, capitals or not.
 */
export function compilePattern(text: string): Result<NamePattern, PatternRefusal> {
  if (text.trim() === '') return refuse({ code: 'empty' });
  const seen = new Set<string>();
  let expression = '';
  let open = 0;
  for (const [token, part] of tokens(text)) {
    if (part !== undefined) {
      const looks = PARTS[part];
      if (looks === undefined) return refuse({ code: 'unknown-part', part });
      if (seen.has(part) && part !== 'any') return refuse({ code: 'part-twice', part });
      expression += part === 'any' ? `(?:${looks})` : `(?<${part}>${looks})`;
      seen.add(part);
    } else if (token === '[') {
      open += 1;
      expression += '(?:';
    } else if (token === ']') {
      open -= 1;
      if (open < 0) return refuse({ code: 'brackets' });
      expression += ')?';
    } else if (token === '{' || token === '}') return refuse({ code: 'brackets' });
    else expression += token.replace(/[.*+?^$()|\\/]/g, '\\$&');
  }
  if (open !== 0) return refuse({ code: 'brackets' });
  return ok({ text, expression: new RegExp(`^${expression}$`, 'iu') });
}

function tokens(text: string): [token: string, part: string | undefined][] {
  return [...text.matchAll(/\{([a-z]+)\}|./gisu)].map((match) => [match[0], match[1]?.toLowerCase()]);
}

export interface NameContext {
  readonly zone: string;
  readonly dayEndsAt: { readonly h: number; readonly mi: number };
  /** Of a size without a unit. */
  readonly unit: LengthUnit;
}

export interface ReadName {
  readonly values: TicketPart;
  /** What was found in the name, as it stands there. */
  readonly parts: Readonly<Record<string, string>>;
}

export type NameRefusal =
  { readonly code: 'no-match' } | { readonly code: 'bad-value'; readonly part: string; readonly got: string };

/** Reads ticket values out of a file name; the ending is left out first. */
export function readName(pattern: NamePattern, fileName: string, context: NameContext): Result<ReadName, NameRefusal> {
  const stem = fileName.normalize('NFC').replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const match = pattern.expression.exec(stem);
  if (!match) return refuse({ code: 'no-match' });
  const parts = Object.fromEntries(
    Object.entries(match.groups ?? {}).filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
  );
  const bad = (part: string): { readonly ok: false; readonly reason: NameRefusal } =>
    refuse({ code: 'bad-value', part, got: parts[part] ?? '' });
  const unit = LENGTH_UNITS.find((each) => each === parts.unit?.toLowerCase()) ?? context.unit;
  const length = (text: string): number | undefined => {
    const parsed = parseLength(text, unit);
    return parsed.ok && parsed.value > 0 ? parsed.value : undefined;
  };
  const values: Record<string, unknown> = {};
  if (parts.customer !== undefined) values.customer = spaced(parts.customer);
  if (parts.order !== undefined) values.orderNo = parts.order.trim();
  if (parts.notes !== undefined) values.notes = spaced(parts.notes);
  if (parts.copies !== undefined) {
    const copies = Number(parts.copies);
    if (copies < 1 || copies > 10_000) return bad('copies');
    values.copies = copies;
  }
  if (parts.width !== undefined || parts.height !== undefined) {
    const widthMm = parts.width === undefined ? null : length(parts.width);
    const heightMm = parts.height === undefined ? null : length(parts.height);
    if (widthMm === undefined) return bad('width');
    if (heightMm === undefined) return bad('height');
    values.size = { kind: 'exact', widthMm, heightMm };
  }
  // A size that is named is the size that is wanted, whatever the drawing was made at.
  if (parts.scale !== undefined && values.size === undefined) {
    const percent = parseScale(parts.scale);
    if (percent === undefined) return bad('scale');
    values.size = { kind: 'percent', x: percent, y: percent };
  }
  if (parts.due !== undefined) {
    const dueMs = parseDue(parts.due, context.zone, context.dayEndsAt);
    if (dueMs === undefined) return bad('due');
    values.dueMs = dueMs;
  }
  return ok({ values: values, parts });
}

/** Names are often written with underscores for spaces. */
function spaced(text: string): string {
  return text.replaceAll('_', ' ').trim();
}

export const SUBFOLDERS = ['not looked into', 'customer', 'order', 'customer/order'] as const;
export type Subfolders = (typeof SUBFOLDERS)[number];

/** What the folders between the hot folder and a file say. @param folders outermost first */
export function readFolders(rule: Subfolders, folders: readonly string[]): TicketPart {
  const named = (index: number): string | undefined => folders[index]?.normalize('NFC').trim() || undefined;
  const customer = rule === 'customer' || rule === 'customer/order' ? named(0) : undefined;
  const orderNo = rule === 'order' ? named(0) : rule === 'customer/order' ? named(1) : undefined;
  return { ...(customer === undefined ? {} : { customer }), ...(orderNo === undefined ? {} : { orderNo }) };
}
