import { type SRgb, okLabOf, sRgbOf } from './okLab.ts';

/** How artwork is made lighter, harder or more colourful before its colours become inks. The file itself stays as it is. */
export interface Tone {
  /** −100 … 100: darkness is multiplied by 1 − brightness ÷ 100. */
  readonly brightness: number;
  /** −100 … 100: shades are drawn apart from the middle, or towards it. */
  readonly contrast: number;
  /** 0.2 … 5: values become value^(1 ÷ gamma); above 1 the middle is lighter. */
  readonly gamma: number;
  /** −100 … 100: chroma is multiplied by 1 + saturation ÷ 100. */
  readonly saturation: number;
}

/** Colours as they came. */
export const PLAIN_TONE: Tone = { brightness: 0, contrast: 0, gamma: 1, saturation: 0 };

/** One of the three values of a colour, 0 … 1, by gamma, brightness and contrast. */
export function shadeOf(value: number, { brightness, contrast, gamma }: Tone): number {
  const bend = 2 ** (contrast / 50);
  const bright = 1 - Math.min(1, (1 - value ** (1 / gamma)) * (1 - brightness / 100));
  // Both ends and the middle stay: an S, or one that is turned over.
  return bright < 0.5 ? 0.5 * (2 * bright) ** bend : 1 - 0.5 * (2 * (1 - bright)) ** bend;
}

/**
 * A colour by the saturation of a tone alone (in OKLab, clipped to sRGB); shades come before it. White stays white and greys stay grey, so
 * that bare media stays bare.
 * @param colour red, green and blue as they are stored, 0 … 1
 */
export function saturated(colour: SRgb, { saturation }: Tone): SRgb {
  if (saturation === 0 || (colour[0] === colour[1] && colour[1] === colour[2])) return colour;
  const { l, a, b } = okLabOf(colour);
  const times = 1 + saturation / 100;
  return sRgbOf({ l, a: a * times, b: b * times });
}
