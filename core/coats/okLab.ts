/** A colour in OKLab: lightness 0 … 1, and the two axes of hue and chroma. */
export interface OkLab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

/** Red, green and blue of sRGB as they are stored, 0 … 1. */
export type SRgb = readonly [number, number, number];

function linear(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}

function stored(value: number): number {
  return value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055;
}

/** A colour of sRGB in OKLab. Source: the definition of OKLab by its two matrices. */
export function okLabOf([red, green, blue]: SRgb): OkLab {
  const r = linear(red);
  const g = linear(green);
  const b = linear(blue);
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return {
    l: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  };
}

/** A colour of OKLab in sRGB; what lies outside is clipped to it, channel by channel. */
export function sRgbOf({ l, a, b }: OkLab): SRgb {
  const long = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const medium = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const short = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  const clipped = (value: number): number => Math.min(1, Math.max(0, stored(value)));
  return [
    clipped(4.0767416621 * long - 3.3077115913 * medium + 0.2309699292 * short),
    clipped(-1.2684380046 * long + 2.6097574011 * medium - 0.3413193965 * short),
    clipped(-0.0041960863 * long - 0.7034186147 * medium + 1.707614701 * short),
  ];
}
