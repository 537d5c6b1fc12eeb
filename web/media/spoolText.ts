import { alongFigure, alongText } from '../ui/text/lengths.ts';
import { number } from '../ui/text/number.ts';
import { counted } from '../ui/text/counted.ts';
import type { SpoolView } from '../../contract/api/floor.ts';

/** What is left: metres of a roll, sheets or garments of a pack. */
export function leftText({ leftMm, sheetMm }: Pick<SpoolView, 'leftMm' | 'sheetMm'>): string {
  return sheetMm === null ? alongText(leftMm, 1) : counted(Math.floor(leftMm / sheetMm + 1e-6), 'sheet');
}

/** What is left on a spool, in the unit that people count it in: metres of a roll, sheets of a pack. */
export function leftFigure({ leftMm, sheetMm }: Pick<SpoolView, 'leftMm' | 'sheetMm'>): {
  readonly value: string;
  readonly unit: string;
} {
  return sheetMm === null
    ? alongFigure(leftMm, 1)
    : { value: number(Math.floor(leftMm / sheetMm + 1e-6)), unit: 'sheets' };
}
