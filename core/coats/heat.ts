/** Red, green and blue, 0 … 255. */
export type Rgb = readonly [number, number, number];

/** Colours of heat: much ink, and as much as may lie at one place or more. */
export const WARM: Rgb = [0xe0, 0xa9, 0x3b];
export const HOT: Rgb = [0xb3, 0x26, 0x1e];

/** A colour between two. @param share 0 is the first, 1 the second */
export function mixRgb(from: Rgb, to: Rgb, share: number): Rgb {
  return [
    from[0] + (to[0] - from[0]) * share,
    from[1] + (to[1] - from[1]) * share,
    from[2] + (to[2] - from[2]) * share,
  ];
}
