import type { MeasureUnit } from './measures.ts';

/** How a person, or a sheet of paper, reads figures. */
export interface FigureStyle {
  readonly number: (value: number, digits: number) => string;
  /** @param minor whole minor units of the shop's currency */
  readonly money: (minor: number) => string;
}

/** A measure as people read it; a dash where there is nothing to divide by. */
export function measureText(unit: string, value: number | null | undefined, { number, money }: FigureStyle): string {
  if (value === null || value === undefined) return '–';
  switch (unit as MeasureUnit) {
    case '%':
      return `${number(value * 100, 1)} %`;
    case 'money':
      return money(Math.round(value));
    case 'money/m²':
      return `${money(Math.round(value))}/m²`;
    case '':
      return number(value, 0);
    default:
      return `${number(value, value >= 100 ? 0 : value >= 10 ? 1 : 2)} ${unit}`;
  }
}

/** What is no longer as it was, without its printer: `takes 9 % longer than before in Production, Mesh`. */
export function shopChangeWords(
  { what, of, share }: { readonly what: 'time' | 'ink'; readonly of: string; readonly share: number },
  number: (value: number) => string,
): string {
  const percent = `${number(Math.abs(share) * 100)} %`;
  return what === 'time'
    ? `takes ${percent} ${share > 0 ? 'longer' : 'less time'} than before in ${of}`
    : `fires ${percent} ${share > 0 ? 'more' : 'less'} ${of} than before for the same pictures`;
}
