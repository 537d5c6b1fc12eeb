import { counted } from '../counted.ts';

/** An amount of a stock as it stands on paper: metres of a roll, sheets of a pack. */
export function mediaText(mm: number, sheetMm: number | null): string {
  return sheetMm === null ? `${(mm / 1000).toFixed(1)} m` : counted(Math.floor(mm / sheetMm + 1e-6), 'sheet');
}
