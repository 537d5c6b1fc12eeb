/** Margins at the sides; below zero: what is printed over the edge of the media (mm). */
export interface SideReach {
  readonly leftMm: number;
  readonly rightMm: number;
}

/**
 * Margins at both sides of a printer's media. Edge to edge there are none: what is printed reaches over both edges by the
 * printer's overspray, so that no white line shows where media lies a little aslant.
 */
export function sideMargins(
  printer: { readonly mediaMarginMm: SideReach; readonly oversprayMm?: number; readonly printableWidthMm: number },
  edgeToEdge: boolean,
  mediaWidthMm: number,
): SideReach {
  // Of media that it can't print from edge to edge nothing is printed over an edge.
  const over = mediaWidthMm <= printer.printableWidthMm ? (printer.oversprayMm ?? 0) : 0;
  // A margin of −0 would be one more spelling of none.
  return edgeToEdge ? { leftMm: 0 - over, rightMm: 0 - over } : printer.mediaMarginMm;
}

export type RegisteredEdge = 'left' | 'centre' | 'right';

/**
 * W, the usable width, and where it starts on the media (mm from the left media edge).
 * Source: min(printable width, measured media width − left margin − right margin), placed by the registered edge.
 */
export function usableWidth(
  printer: { readonly printableWidthMm: number; readonly registeredEdge: RegisteredEdge },
  mediaWidthMm: number,
  leftMm: number,
  rightMm: number,
): { readonly usableWidthMm: number; readonly usableFromMm: number } {
  const inside = mediaWidthMm - leftMm - rightMm;
  // What reaches over the edges of media that the printer takes whole is no part of its printable width.
  const usableWidthMm = mediaWidthMm <= printer.printableWidthMm ? inside : Math.min(printer.printableWidthMm, inside);
  const spare = inside - usableWidthMm;
  const shift = { left: 0, centre: spare / 2, right: spare }[printer.registeredEdge];
  return { usableWidthMm, usableFromMm: leftMm + shift };
}

/** How far what is printed reaches over each edge of the media (mm); nothing where there are margins. */
export function oversprayOf(
  { usableWidthMm, usableFromMm }: { readonly usableWidthMm: number; readonly usableFromMm: number },
  mediaWidthMm: number,
): SideReach {
  return {
    leftMm: Math.max(0, -usableFromMm),
    rightMm: Math.max(0, usableFromMm + usableWidthMm - mediaWidthMm),
  };
}
