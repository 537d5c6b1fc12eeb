import type { Units } from '../../../core/people/preferences.ts';
import { preferences } from '../preferences.ts';
import { number } from './number.ts';

type Unit = Exclude<Units, 'metric'>;

const MM: Readonly<Record<Unit, number>> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };
/** Digits that say as much as a whole millimetre, and as a centimetre of a roll. */
const SHORT_DIGITS: Readonly<Record<Unit, number>> = { mm: 0, cm: 1, m: 3, in: 2, ft: 3 };
const LONG_DIGITS: Readonly<Record<Unit, number>> = { mm: 0, cm: 0, m: 2, in: 1, ft: 2 };

interface LengthParts {
  readonly value: string;
  readonly unit: string;
}

const chosen = (otherwise: Unit): Unit => {
  const { units } = preferences();
  return units === 'metric' ? otherwise : units;
};

/** The unit that length fields are shown in, and that a figure without one is taken as. */
export const fieldUnit = (): Unit => chosen('mm');

/** The unit that lengths along the media are shown in, and that a figure without one is taken as. */
export const alongUnit = (): Unit => chosen('m');

/** One side of something, in a sentence: as many digits as its size is known in. */
export function sideText(mm: number): string {
  const unit = fieldUnit();
  return `${number(mm / MM[unit], 0, Math.max(1, SHORT_DIGITS[unit]) + (mm < 10 ? 2 : 0))} ${unit}`;
}

/** Millimetres as they stand in a field: every digit that matters, none that doesn't. */
export function fieldText(mm: number): string {
  const unit = fieldUnit();
  return String(Math.round((mm / MM[unit]) * 10_000) / 10_000);
}

/** A length along the media, as of a roll or a run. @param digits behind the point of metres */
export function alongFigure(mm: number, digits = 2): LengthParts {
  const unit = alongUnit();
  return { value: number(mm / MM[unit], Math.max(0, LONG_DIGITS[unit] + digits - 2)), unit };
}

export function alongText(mm: number, digits = 2): string {
  const { value, unit } = alongFigure(mm, digits);
  return `${value} ${unit}`;
}

/** A length across the media or on a piece. @param digits behind the point of millimetres */
export function acrossFigure(mm: number, digits = 0): LengthParts {
  const unit = chosen('mm');
  return { value: number(mm / MM[unit], SHORT_DIGITS[unit] + digits), unit };
}

/** A length on a piece, with no more digits than it has. */
export function exactText(mm: number): string {
  const unit = fieldUnit();
  return `${number(mm / MM[unit], 0, SHORT_DIGITS[unit] + 2)} ${unit}`;
}

export function acrossText(mm: number, digits = 0): string {
  const { value, unit } = acrossFigure(mm, digits);
  return `${value} ${unit}`;
}

/** Metres with two digits, or millimetres below one metre; or as is chosen. */
export function lengthFigure(mm: number): LengthParts {
  return preferences().units === 'metric' && Math.abs(mm) < 1000 ? acrossFigure(mm) : alongFigure(mm);
}

/** What a ruler is parted by: the least step (mm), and how many of them make the unit that stands on it. */
export function rulerSteps(): { readonly leastMm: number; readonly perUnit: number; readonly unit: Unit } {
  const unit = fieldUnit();
  const perUnit = { mm: 1, cm: 10, m: 1000, in: 100, ft: 100 }[unit];
  return { leastMm: MM[unit] / perUnit, perUnit, unit };
}

/** Width × height, with the digits that there are; without its unit where that stands above it. */
export function sizeText(widthMm: number, heightMm: number, withUnit = true): string {
  const unit = chosen('mm');
  const most = unit === 'mm' ? 1 : SHORT_DIGITS[unit];
  const text = [widthMm, heightMm].map((mm) => number(mm / MM[unit], 0, most)).join(' × ');
  return withUnit ? `${text} ${unit}` : text;
}
