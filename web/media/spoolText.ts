import { counted } from '../../core/counted.ts';
import type { SpoolView } from '../../contract/api/floor.ts';
import { number } from '../ui/Figure.tsx';

/** What is left: metres of a roll, sheets or garments of a pack. */
export function leftText({ leftMm, sheetMm }: Pick<SpoolView, 'leftMm' | 'sheetMm'>): string {
  return sheetMm === null ? `${number(leftMm / 1000, 1)} m` : counted(Math.floor(leftMm / sheetMm + 1e-6), 'sheet');
}

/** What is left on a spool, in the unit that people count it in: metres of a roll, sheets of a pack. */
export function leftFigure({ leftMm, sheetMm }: Pick<SpoolView, 'leftMm' | 'sheetMm'>): {
  readonly value: string;
  readonly unit: string;
} {
  return sheetMm === null
    ? { value: number(leftMm / 1000, 1), unit: 'm' }
    : { value: number(Math.floor(leftMm / sheetMm + 1e-6)), unit: 'sheets' };
}
