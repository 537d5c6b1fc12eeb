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
  | { readonly code: 'length-times-length' }
  | { readonly code: 'divided-by-zero' };

const PART =
  /^(?:(\d+)\s+(\d+)\s*\/\s*(\d+)|(\d+)\s*\/\s*(\d+)|(\d+(?:[.,]\d+)?|[.,]\d+))\s*(mm|cm|m|inches|inch|in|"|″|feet|foot|ft|'|′)?\s*/i;

/** A number, in mm once it has met a unit. */
interface Quantity {
  readonly value: number;
  readonly isLength: boolean;
}

class Unreadable extends Error {
  constructor(readonly reason: LengthRefusal) {
    super(reason.code);
  }
}

/**
 * Reads a length as people write it: `297`, `1,5 m`, `11 7/8 in`, `38 ft`, `6 ft 2 1/2 in`, `5′ 3″`, and sums of it:
 * `3*18in+2mm`, `(2 m - 40) / 3`. A comma is a decimal mark. Without a unit `fallback` is meant.
 * @returns millimetres
 */
export function parseLength(text: string, fallback: LengthUnit): Result<number, LengthRefusal> {
  const plain = text
    .trim()
    .replace(/[½¼¾⅛⅜⅝⅞⅓⅔]/g, (sign) => ` ${VULGAR[sign] ?? sign}`)
    .replace(/−/g, '-')
    .replace(/[×·]/g, '*')
    .trim();
  if (plain === '') return refuse({ code: 'empty' });
  try {
    const reader = new LengthReader(plain, MM[fallback]);
    return ok(reader.whole());
  } catch (error) {
    if (error instanceof Unreadable) return refuse(error.reason);
    throw error;
  }
}

/** sum = term ((+|-) term)…   term = factor ((*|/) factor)…   factor = -factor | ( sum ) | lengths side by side */
class LengthReader {
  constructor(
    private rest: string,
    private readonly fallbackMm: number,
  ) {}

  whole(): number {
    const mm = this.mm(this.sum());
    if (this.rest !== '') throw new Unreadable({ code: 'not-a-length', at: this.rest });
    return mm;
  }

  private mm(quantity: Quantity): number {
    return quantity.isLength ? quantity.value : quantity.value * this.fallbackMm;
  }

  private took(sign: RegExp): string | undefined {
    const match = sign.exec(this.rest);
    if (!match) return undefined;
    this.rest = this.rest.slice(match[0].length);
    return match[0].trim();
  }

  private sum(): Quantity {
    let total = this.term();
    for (let sign = this.took(/^[+-]\s*/); sign !== undefined; sign = this.took(/^[+-]\s*/)) {
      const next = this.term();
      const by = sign === '+' ? 1 : -1;
      // Where one of the two has a unit the other one is in the usual one.
      const isLength = total.isLength || next.isLength;
      total = isLength
        ? { value: this.mm(total) + by * this.mm(next), isLength }
        : { value: total.value + by * next.value, isLength };
    }
    return total;
  }

  private term(): Quantity {
    let product = this.factor();
    for (let sign = this.took(/^[*/]\s*/); sign !== undefined; sign = this.took(/^[*/]\s*/)) {
      const next = this.factor();
      if (next.isLength && (product.isLength || sign === '/')) throw new Unreadable({ code: 'length-times-length' });
      if (sign === '/' && next.value === 0) throw new Unreadable({ code: 'divided-by-zero' });
      product = {
        value: sign === '*' ? product.value * next.value : product.value / next.value,
        isLength: product.isLength || next.isLength,
      };
    }
    return product;
  }

  private factor(): Quantity {
    if (this.took(/^-\s*/) !== undefined) {
      const { value, isLength } = this.factor();
      return { value: -value, isLength };
    }
    if (this.took(/^\(\s*/) !== undefined) {
      const inside = this.sum();
      if (this.took(/^\)\s*/) === undefined) throw new Unreadable({ code: 'not-a-length', at: this.rest || '(' });
      return inside;
    }
    const first = this.part();
    if (!first) throw new Unreadable({ code: 'not-a-length', at: this.rest });
    let total = first;
    // `6 ft 2 1/2 in`: lengths side by side; bare numbers side by side mean nothing.
    while (total.isLength) {
      const next = this.part();
      if (!next) break;
      total = { value: total.value + this.mm(next), isLength: true };
    }
    return total;
  }

  private part(): Quantity | undefined {
    const match = PART.exec(this.rest);
    if (!match) return undefined;
    const [whole, mixed, over, under, num, den, plain, unit] = match;
    const divisor = Number(under ?? den ?? 1);
    if (divisor === 0) throw new Unreadable({ code: 'divided-by-zero' });
    this.rest = this.rest.slice(whole.length);
    const value =
      plain !== undefined ? Number(plain.replace(',', '.')) : Number(mixed ?? 0) + Number(over ?? num ?? 0) / divisor;
    if (unit === undefined) return { value, isLength: false };
    return { value: value * MM[NAMES[unit.toLowerCase()] ?? 'mm'], isLength: true };
  }
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

/** A length in feet and inches with a fraction, as rulers have it; rounded to the nearest mark. */
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
