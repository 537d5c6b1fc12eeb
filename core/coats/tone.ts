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

export function isPlainTone({ brightness, contrast, gamma, saturation }: Tone): boolean {
  return brightness === 0 && contrast === 0 && gamma === 1 && saturation === 0;
}

/**
 * A colour by a tone: gamma, brightness, contrast, then saturation (in OKLab, clipped to sRGB). White stays white whatever the tone, so that
 * bare media stays bare, and greys stay grey.
 * @param colour red, green and blue as they are stored, 0 … 1
 */
export function toned(colour: SRgb, { brightness, contrast, gamma, saturation }: Tone): SRgb {
  const bend = 2 ** (contrast / 50);
  const shade = (value: number): number => {
    const bright = 1 - Math.min(1, (1 - value ** (1 / gamma)) * (1 - brightness / 100));
    // Both ends and the middle stay: an S, or one that is turned over.
    return bright < 0.5 ? 0.5 * (2 * bright) ** bend : 1 - 0.5 * (2 * (1 - bright)) ** bend;
  };
  const shaded: SRgb = [shade(colour[0]), shade(colour[1]), shade(colour[2])];
  if (saturation === 0 || (shaded[0] === shaded[1] && shaded[1] === shaded[2])) return shaded;
  const { l, a, b } = okLabOf(shaded);
  const times = 1 + saturation / 100;
  return sRgbOf({ l, a: a * times, b: b * times });
}
