import { type Result, ok, refuse } from '../result.ts';

export const LENGTH_UNITS = ['mm', 'cm', 'm', 'in', 'ft'] as const;
export type LengthUnit = (typeof LENGTH_UNITS)[number];

const MM: Record<LengthUnit, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };
const NAMES: Record<string, LengthUnit> = {
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  in: 'in',
  inch: 'in',
  inches: 'in',
  '"': 'in',
  '″': 'in',
  ft: 'ft',
  foot: 'ft',
  feet: 'ft',
  "'": 'ft',
  '′': 'ft',
};
const VULGAR: Record<string, string> = {
  '½': '1/2',
  '¼': '1/4',
  '¾': '3/4',
  '⅛': '1/8',
  '⅜': '3/8',
  '⅝': '5/8',
  '⅞': '7/8',
  '⅓': '1/3',
  '⅔': '2/3',
};

export type LengthRefusal =
  | { readonly code: 'empty' }
  | { readonly code: 'not-a-length'; readonly at: string }
  | { readonly code: 'divided-by-zero' };

const PART =
  /^(?:(\d+)\s+(\d+)\s*\/\s*(\d+)|(\d+)\s*\/\s*(\d+)|(\d+(?:[.,]\d+)?|[.,]\d+))\s*(mm|cm|m|inches|inch|in|"|″|feet|foot|ft|'|′)?\s*/i;

/**
 * Reads a length as people write it: `297`, `1,5 m`, `11 7/8 in`, `38 ft`, `6 ft 2 1/2 in`, `5′ 3″`. A comma is a decimal
 * mark. Without a unit `fallback` is meant.
 * @returns millimetres
 */
export function parseLength(text: string, fallback: LengthUnit): Result<number, LengthRefusal> {
  let rest = text
    .trim()
    .replace(/[½¼¾⅛⅜⅝⅞⅓⅔]/g, (sign) => ` ${VULGAR[sign] ?? sign}`)
    .trim();
  if (rest === '') return refuse({ code: 'empty' });
  const negative = rest.startsWith('-') || rest.startsWith('−');
  if (negative) rest = rest.slice(1).trim();
  let mm = 0;
  while (rest !== '') {
    const match = PART.exec(rest);
    if (!match) return refuse({ code: 'not-a-length', at: rest });
    const [whole, mixed, over, under, num, den, plain, unit] = match;
    const divisor = Number(under ?? den ?? 1);
    if (divisor === 0) return refuse({ code: 'divided-by-zero' });
    const value =
      plain !== undefined ? Number(plain.replace(',', '.')) : Number(mixed ?? 0) + Number(over ?? num ?? 0) / divisor;
    mm += value * MM[unit === undefined ? fallback : (NAMES[unit.toLowerCase()] ?? fallback)];
    rest = rest.slice(whole.length);
  }
  return ok(negative ? -mm : mm);
}

export interface FormatOptions {
  readonly unit: LengthUnit;
  /** Digits after the point; ignored with `fraction`. */
  readonly digits?: number;
  /** Inches and feet as fractions of 1/this inch, reduced: 16 → `11 7/8 in`. */
  readonly fraction?: number;
}

/** Writes millimetres in a unit: `formatLength(301.625, { unit: 'in', fraction: 16 })` → `11 7/8 in`. */
export function formatLength(mm: number, options: FormatOptions): string {
  const { unit } = options;
  if (options.fraction !== undefined && (unit === 'in' || unit === 'ft'))
    return fractionText(mm, unit, options.fraction);
  const digits = options.digits ?? { mm: 1, cm: 2, m: 2, in: 2, ft: 2 }[unit];
  const text = (mm / MM[unit]).toLocaleString('en-GB', { minimumFractionDigits: 0, maximumFractionDigits: digits });
  return `${text} ${unit}`;
}

function fractionText(mm: number, unit: 'in' | 'ft', denominator: number): string {
  const sign = mm < 0 ? '−' : '';
  let parts = Math.round((Math.abs(mm) / 25.4) * denominator);
  let feet = '';
  if (unit === 'ft') {
    const perFoot = 12 * denominator;
    feet = `${String(Math.floor(parts / perFoot))} ft`;
    parts %= perFoot;
    if (parts === 0) return sign + feet;
    feet += ' ';
  }
  const whole = Math.floor(parts / denominator);
  const rest = parts % denominator;
  if (rest === 0) return `${sign}${feet}${String(whole)} in`;
  const by = gcd(rest, denominator);
  const fraction = `${String(rest / by)}/${String(denominator / by)}`;
  return `${sign}${feet}${whole > 0 ? `${String(whole)} ` : ''}${fraction} in`;
}

function gcd(a: number, b: number): number {
  return b === 0 ? a : gcd(b, a % b);
}
