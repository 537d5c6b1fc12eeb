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
  const usableWidthMm = Math.min(printer.printableWidthMm, inside);
  const spare = inside - usableWidthMm;
  const shift = { left: 0, centre: spare / 2, right: spare }[printer.registeredEdge];
  return { usableWidthMm, usableFromMm: leftMm + shift };
}
