/**
 * H, the length that rows of a segment may take: what may hang freely, less the margins and the room for the end cut.
 * @param longestMm free-hang length of the printer, or what a person lets a segment be
 * @param endCutMm what is fed behind a run before it is cut off
 */
export function segmentRoomMm(
  longestMm: number,
  margins: { readonly leadMm: number; readonly trailMm: number },
  endCutMm: number,
): number {
  return longestMm - margins.leadMm - margins.trailMm - endCutMm;
}
