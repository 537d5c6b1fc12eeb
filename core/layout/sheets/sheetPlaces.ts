import type { Orientation } from '../orientations.ts';

/** How a sheet is parted into places of one size. */
export interface SheetPlaces {
  readonly columns: number;
  readonly rows: number;
}

export interface PlaceSize {
  readonly widthMm: number;
  readonly heightMm: number;
}

/** Size of a place: the usable part of a sheet, less the gaps, in equal parts. Zero or less where the gaps take it all. */
export function placeSize(
  usable: { readonly widthMm: number; readonly lengthMm: number },
  gap: { readonly xMm: number; readonly yMm: number },
  { columns, rows }: SheetPlaces,
): PlaceSize {
  return {
    widthMm: (usable.widthMm - (columns - 1) * gap.xMm) / columns,
    heightMm: (usable.lengthMm - (rows - 1) * gap.yMm) / rows,
  };
}

/** The first way to lie that fits a place. */
export function orientationIn(
  orientations: readonly Orientation[],
  { widthMm, heightMm }: PlaceSize,
): Orientation | undefined {
  return orientations.find((each) => each.widthMm <= widthMm + 1e-6 && each.heightMm <= heightMm + 1e-6);
}
