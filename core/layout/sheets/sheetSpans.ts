import type { RectMm } from '../../geometry/frame.ts';

/** From where to where each sheet of a run reaches: sheets lie end to end along the feed (mm). */
export interface SheetSpan {
  /** 1 … n, as they are printed. */
  readonly no: number;
  readonly startMm: number;
  readonly endMm: number;
}

/** What lies this little before the edge of a sheet lies on it: places are sums of decimals. */
const EDGE_MM = 1e-6;

/** The sheets of a run of this length; a roll (null) is none. */
export function sheetSpans(lengthMm: number, sheetMm: number | null): readonly SheetSpan[] {
  if (sheetMm === null) return [];
  return Array.from({ length: Math.max(1, Math.round(lengthMm / sheetMm)) }, (_, i) => ({
    no: i + 1,
    startMm: i * sheetMm,
    endMm: (i + 1) * sheetMm,
  }));
}

/**
 * Whether a place lies on the sheet from `startMm` to `endMm`. Asked of the middle of a piece: the rectangle around a contour
 * may reach over the edge of its sheet where the contour doesn't.
 */
export function isWithin(yMm: number, startMm: number, endMm: number): boolean {
  return yMm >= startMm - EDGE_MM && yMm < endMm - EDGE_MM;
}

/** Where the sheet begins that a piece lies on; 0 on a roll. */
export function sheetStartMm({ yMm, heightMm }: Pick<RectMm, 'yMm' | 'heightMm'>, sheetMm: number | null): number {
  return sheetMm === null ? 0 : Math.floor((yMm + heightMm / 2 + EDGE_MM) / sheetMm) * sheetMm;
}
