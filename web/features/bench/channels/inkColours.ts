/** Red, green and blue, 0 … 255. */
export type Rgb = readonly [number, number, number];

/**
 * How inks look on the media: each lets through what a full layer of its colour does, by its share. To look at, no proof of colour.
 * @param inks of each channel, 0 … 255 a pixel, all of one length
 * @param into RGBA, 4 bytes a pixel
 */
export function mixInks(
  media: Rgb,
  channels: readonly { readonly inks: Uint8Array; readonly colour: Rgb }[],
  into: Uint8ClampedArray,
): void {
  for (let band = 0; band < 3; band += 1) {
    // What each amount of an ink lets through, once for all pixels.
    const lets = channels.map(({ colour }) =>
      Float32Array.from({ length: 256 }, (_, ink) => 1 - (ink / 255) * (1 - (colour[band] ?? 255) / 255)),
    );
    const bare = media[band] ?? 255;
    for (let at = band, i = 0; at < into.length; at += 4, i += 1) {
      let light = bare;
      for (let c = 0; c < channels.length; c += 1) light *= lets[c]?.[channels[c]?.inks[i] ?? 0] ?? 1;
      into[at] = light;
    }
  }
  for (let at = 3; at < into.length; at += 4) into[at] = 255;
}
