import { MICRO_PER_MINOR } from './money.ts';

/** What a shop asks beyond what work costs. */
export interface PriceTerms {
  /** As a share of the cost. */
  readonly marginShare: number;
  /** Nothing is sold for less (minor units). */
  readonly leastPriceMinor: number;
}

/** Price of work: cost · (1 + margin), rounded half up, at least the shop's least price. (Pace, “Quote”.) */
export function quotePriceMinor(costMicro: number, { marginShare, leastPriceMinor }: PriceTerms): number {
  const exact = (costMicro * (1 + marginShare)) / MICRO_PER_MINOR;
  // What is half a cent but for the tail of a float is half a cent.
  return Math.max(leastPriceMinor, Math.floor(exact + 0.5 + 1e-9));
}
