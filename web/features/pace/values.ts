import type { PaceAnswer, PaceValue } from '../../../contract/api/pace/pace.ts';
import { measureText } from '../../../core/pace/paceWords.ts';
import { moneyText } from '../../draw/money.ts';
import { number } from '../../ui/text/number.ts';

export type PaceMeasure = PaceAnswer['measures'][number];

/** A measure as people read it; a dash where there is nothing to divide by. */
export function valueText(
  { unit }: Pick<PaceMeasure, 'unit'>,
  value: number | null | undefined,
  currency: string,
): string {
  return measureText(unit, value, { number, money: (minor) => moneyText(minor, currency) });
}

/** `420 of 630 min`, so that a share can be checked. */
export function partsText({ unit }: Pick<PaceMeasure, 'unit'>, { numerator, denominator }: PaceValue): string {
  const figure = (value: number): string => number(value, Math.abs(value) >= 100 ? 0 : 2);
  if (denominator === 1 && unit !== '%') return '';
  return `${figure(numerator)} ÷ ${figure(denominator)}`;
}

/** How much better or worse a figure is than another, as people say it. */
export function changeText(
  { unit }: Pick<PaceMeasure, 'unit'>,
  now: number | null | undefined,
  before: number | null | undefined,
): { readonly text: string; readonly up: boolean | null } | null {
  if (now === null || now === undefined || before === null || before === undefined) return null;
  if (unit === '%') {
    const points = (now - before) * 100;
    if (Math.abs(points) < 0.05) return { text: 'as before', up: null };
    return { text: `${number(Math.abs(points), 1)} points`, up: points > 0 };
  }
  if (before === 0) return null;
  const share = (now - before) / Math.abs(before);
  if (Math.abs(share) < 0.005) return { text: 'as before', up: null };
  return { text: `${number(Math.abs(share) * 100)} %`, up: share > 0 };
}
