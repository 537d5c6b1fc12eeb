/** Work whose value is asked. Money in minor units. */
export interface Valued {
  readonly pieces: number;
  /** Of these, so many have a price; what they come to together. */
  readonly priced: number;
  readonly pricesMinor: number;
  /** What all of it costs to print. */
  readonly costMinor: number;
  /** What a piece without a price brings beyond its cost, as a share of it. */
  readonly marginShare: number;
}

/** What work brings once it is printed good: prices where jobs have them, else its cost and the shop's margin. (The night's proposal, “Worth”.) */
export function workValueMinor({ pieces, priced, pricesMinor, costMinor, marginShare }: Valued): number {
  const unpriced = pieces === 0 ? 0 : (pieces - priced) / pieces;
  return pricesMinor + unpriced * costMinor * (1 + marginShare);
}
