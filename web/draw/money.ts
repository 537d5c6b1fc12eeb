const formats = new Map<string, Intl.NumberFormat>();

/** Minor units as money: `12.40 €`. */
export function moneyText(minor: number, currency: string): string {
  let format = formats.get(currency);
  if (!format) {
    format = new Intl.NumberFormat('en-GB', { style: 'currency', currency, currencyDisplay: 'narrowSymbol' });
    formats.set(currency, format);
  }
  return format.format(minor / 100);
}
