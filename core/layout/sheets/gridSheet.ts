import { type RectMm, closerThan } from '../../geometry/frame.ts';
import { type NestInput, inputPlaceSize, nestOrientations } from '../nestInput.ts';
import { type SheetPlaces, orientationIn } from './sheetPlaces.ts';
import type { Placement } from '../nestLayout.ts';

/**
 * Fills the places of sheets in order: left to right, row by row, sheet by sheet, each piece in the middle of its place.
 * Pieces come as they are listed, with groups those of the lower ones first. A place that a fixed piece reaches into stays
 * empty. Every piece is known to fit (see `parseNestRequest`).
 */
export function fillPlaces(input: NestInput, places: SheetPlaces): Placement[] {
  const { margins, gapXMm, gapYMm, fixed } = input;
  const sheetMm = input.sheetMm ?? 0;
  const size = inputPlaceSize(input, places);
  const order = [...input.pieces];
  if (input.order === 'groups') order.sort((a, b) => (a.group ?? 0) - (b.group ?? 0));
  const placements: Placement[] = [];
  let next = 0;
  const freePlace = (): RectMm => {
    for (;;) {
      const onSheet = next % (places.columns * places.rows);
      const sheet = (next - onSheet) / (places.columns * places.rows);
      next += 1;
      const place = {
        xMm: margins.leftMm + (onSheet % places.columns) * (size.widthMm + gapXMm),
        yMm: sheet * sheetMm + margins.leadMm + Math.floor(onSheet / places.columns) * (size.heightMm + gapYMm),
        ...size,
      };
      if (!fixed.some((each) => closerThan(each, place, gapXMm, gapYMm))) return place;
    }
  };
  for (const piece of order) {
    const orientation = orientationIn(nestOrientations(piece), size);
    if (!orientation) throw new Error(`${piece.id} fits no place`);
    for (let copy = 0; copy < piece.copies; copy++) {
      const place = freePlace();
      placements.push({
        id: piece.id,
        copy,
        xMm: place.xMm + (size.widthMm - orientation.widthMm) / 2,
        yMm: place.yMm + (size.heightMm - orientation.heightMm) / 2,
        angleDeg: orientation.angleDeg,
      });
    }
  }
  return placements;
}
