import type { RectMm } from '../../geometry/frame.ts';
import { turnedSize } from '../../geometry/turn.ts';

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

/** A piece as it lies: its size before it was turned. */
interface LaidPlace {
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly angleDeg: number;
}

/**
 * Whether a piece lies on a sheet: its middle does. The rectangle around a contour may reach over the edge of its sheet where
 * the contour doesn't.
 */
export function liesOn({ yMm, widthMm, heightMm, angleDeg }: LaidPlace, span: SheetSpan): boolean {
  return isWithin(yMm + turnedSize(widthMm, heightMm, angleDeg).heightMm / 2, span);
}

/** Whether something at this place along the feed is on a sheet. */
export function isWithin(yMm: number, { startMm, endMm }: SheetSpan): boolean {
  return yMm >= startMm - EDGE_MM && yMm < endMm - EDGE_MM;
}

/** Where the sheet begins that a rectangle lies on; 0 on a roll. */
export function sheetStartMm({ yMm, heightMm }: Pick<RectMm, 'yMm' | 'heightMm'>, sheetMm: number | null): number {
  return sheetMm === null ? 0 : Math.floor((yMm + heightMm / 2 + EDGE_MM) / sheetMm) * sheetMm;
}
