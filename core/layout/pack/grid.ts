/**
 * Layout arithmetic runs on whole numbers of 1e-5 mm, so that "three 33.4 wide with 0.1 between in 100.4" is an exact
 * fit and not a rounding accident. Doubles hold such integers exactly up to 90,000 km.
 */
export const GRID_PER_MM = 1e5;

/** Millimetres as whole steps of the grid that layouts are packed on. */
export function toGrid(mm: number): number {
  return Math.round(mm * GRID_PER_MM);
}

/** Steps of the grid as millimetres. */
export function fromGrid(units: number): number {
  return units / GRID_PER_MM;
}

/** Where the sheet ends on which `y` lies, for sheets of length `period` end to end; Infinity on a roll. */
export function nextEnd(y: number, period: number): number {
  return period === Infinity ? Infinity : (Math.floor(y / period) + 1) * period;
}

/** The largest length of which all these whole lengths are multiples; 0 of none. */
export function commonUnit(lengths: readonly number[]): number {
  return lengths.reduce(gcd, 0);
}

function gcd(a: number, b: number): number {
  while (b > 0) [a, b] = [b, a % b];
  return a;
}
