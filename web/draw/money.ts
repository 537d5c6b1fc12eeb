import { preferences } from '../ui/preferences.ts';

const formats = new Map<string, Intl.NumberFormat>();

/** Minor units as money: `12.40 €`. */
export function moneyText(minor: number, currency: string): string {
  const { locale } = preferences();
  const key = `${locale} ${currency}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(locale, { style: 'currency', currency, currencyDisplay: 'narrowSymbol' });
    formats.set(key, format);
  }
  return format.format(minor / 100);
}
