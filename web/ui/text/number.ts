import { preferences } from '../preferences.ts';

const formats = new Map<string, Intl.NumberFormat>();

/** Kept, because making a format costs more than a thousand uses of it. */
function formatOf(least: number, most: number): Intl.NumberFormat {
  const { locale } = preferences();
  const key = `${locale} ${String(least)}-${String(most)}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(locale, { minimumFractionDigits: least, maximumFractionDigits: most });
    formats.set(key, format);
  }
  return format;
}

/** A number as the person reads it, with a fixed count of digits behind the point. What rounds to nothing has no sign. */
export function number(value: number, digits = 0, mostDigits = digits): string {
  const rounded = Math.abs(value) < 0.5 * 10 ** -mostDigits ? 0 : value;
  return formatOf(digits, mostDigits).format(rounded);
}
