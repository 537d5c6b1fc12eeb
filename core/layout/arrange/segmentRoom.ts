import type { LayoutSpace } from '../marks/markSettings.ts';
import type { SegmentRoom } from './segments.ts';

/**
 * What the rows of a segment may take: across the usable width less the room for marks; along H, what may hang freely less
 * the margins, the marks and the room for the end cut.
 * @param longestMm free-hang length of the printer, or what a person lets a segment be
 * @param endCutMm what is fed behind a run before it is cut off
 */
export function segmentRoom(
  usableWidthMm: number,
  longestMm: number,
  space: LayoutSpace,
  endCutMm: number,
): SegmentRoom {
  return {
    widthMm: usableWidthMm - space.leftMm - space.rightMm,
    lengthMm: longestMm - space.leadMm - space.trailMm - endCutMm,
    gapXMm: space.gapXMm,
    gapYMm: space.gapYMm,
  };
}
