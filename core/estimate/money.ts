/** Amounts inside calculations are in millionths of a minor unit's hundredth: micro-units of the currency. */
export const MICRO_PER_MINOR = 10_000;

export interface CostInput {
  readonly inkMl: Readonly<Record<string, number>>;
  readonly pricePerMlMicro: Readonly<Record<string, number>>;
  readonly fedMm: number;
  readonly mediaWidthMm: number;
  readonly mediaPerM2Minor: number;
  readonly timeMs: number;
  readonly ratePerHourMinor: number;
  readonly extraMinor: number;
}

export interface Cost {
  readonly inkMicro: number;
  readonly mediaMicro: number;
  readonly timeMicro: number;
  readonly extraMicro: number;
  /** Rounded once, half up. */
  readonly totalMinor: number;
}

/**
 * What a run costs: Σ channel ml × price + fed length × media width × price + machine hours × rate + extra charges. Exact in
 * micro-units inside, rounded once.
 */
export function costOfRun(input: CostInput): Cost {
  const inkMicro = Object.entries(input.inkMl).reduce(
    (sum, [channel, ml]) => sum + ml * (input.pricePerMlMicro[channel] ?? 0),
    0,
  );
  const mediaMicro = ((input.fedMm * input.mediaWidthMm) / 1e6) * input.mediaPerM2Minor * MICRO_PER_MINOR;
  const timeMicro = (input.timeMs / 3_600_000) * input.ratePerHourMinor * MICRO_PER_MINOR;
  const extraMicro = input.extraMinor * MICRO_PER_MINOR;
  return {
    inkMicro,
    mediaMicro,
    timeMicro,
    extraMicro,
    totalMinor: toMinor(inkMicro + mediaMicro + timeMicro + extraMicro),
  };
}

/** Half up. */
export function toMinor(micro: number): number {
  return Math.floor(micro / MICRO_PER_MINOR + 0.5);
}

/**
 * A total in whole minor units parted by weights, so that the shares bring exactly the total: largest remainder first, ties
 * by id.
 */
export function shareOut(
  totalMinor: number,
  weights: readonly { readonly id: string; readonly weight: number }[],
): Map<string, number> {
  const all = weights.reduce((sum, { weight }) => sum + weight, 0);
  const exact = weights.map(({ id, weight }) => {
    const share = all > 0 ? (totalMinor * weight) / all : totalMinor / weights.length;
    return { id, whole: Math.floor(share), rest: share - Math.floor(share) };
  });
  let left = totalMinor - exact.reduce((sum, { whole }) => sum + whole, 0);
  const order = [...exact].sort((a, b) => b.rest - a.rest || (a.id < b.id ? -1 : 1));
  const shares = new Map(exact.map(({ id, whole }) => [id, whole]));
  for (const { id } of order) {
    if (left <= 0) break;
    shares.set(id, (shares.get(id) ?? 0) + 1);
    left -= 1;
  }
  return shares;
}
