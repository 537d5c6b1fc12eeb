/** Bare media against which ink shows: light for most, dark for white and clear. */
export const LIGHT_GROUND = '#FFFFFF';
export const DARK_GROUND = '#26221E';

/** Red, green and blue of a colour `#RRGGBB`, 0 … 255. */
export function rgbOf(hex: string): readonly [number, number, number] {
  const of = (from: number): number => Number.parseInt(hex.slice(from, from + 2), 16);
  return [of(1), of(3), of(5)];
}

/** What red, green and blue are for the eye. */
export const GREY_PARTS = [0.3, 0.59, 0.11] as const;

/** How bright a colour is to the eye, 0 … 1. */
export function brightnessOf(hex: string): number {
  return rgbOf(hex).reduce((sum, value, i) => sum + (value / 255) * (GREY_PARTS[i] ?? 0), 0);
}
