import { HOT, type Rgb, WARM, mixRgb } from '../../../../core/coats/heat.ts';

const PALE: Rgb = [0xe4, 0xde, 0xd0];

/**
 * How much ink lies where, as heat: bare media, pale, warm at three quarters of the limit, hot from the limit on.
 * @param inks of each channel, 0 … 255 a pixel, all of one length @param limit most at one place, as a sum of full layers
 */
export function heatOf(media: Rgb, inks: readonly Uint8Array[], limit: number, into: Uint8ClampedArray): void {
  // Of each sum of inks, in steps of a hundredth of the limit, once for all pixels.
  const colours = Array.from({ length: 101 }, (_, percent): Rgb => {
    const share = percent / 100;
    if (share === 0) return media;
    return share < 0.75 ? mixRgb(PALE, WARM, share / 0.75) : mixRgb(WARM, HOT, (share - 0.75) / 0.25);
  });
  for (let i = 0; i < into.length / 4; i += 1) {
    let sum = 0;
    for (const ink of inks) sum += ink[i] ?? 0;
    const [r, g, b] =
      colours[sum === 0 ? 0 : Math.min(100, Math.max(1, Math.round((sum / 255 / limit) * 100)))] ?? media;
    into.set([r, g, b, 255], i * 4);
  }
}

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
