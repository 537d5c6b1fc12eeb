/** One window of a run: mean ink of each channel, 0 … 1, by its real pixels, and by the coarse picture of the same place. */
export interface WindowInk {
  readonly real: readonly number[];
  readonly coarse: readonly number[];
}

/** What a channel takes by a sample. */
export interface SampledInk {
  /** Share of full ink over the whole run, 0 … 1. */
  readonly share: number;
  /** Two errors beside that share: it lies within so much of it nineteen times of twenty. */
  readonly within: number;
}

/** Channels that cover less than this need not be known as well: nobody's ink runs out by them. */
const FAINT = 0.005;
/** As far as a sample may be off. */
const WITHIN = 0.02;

/**
 * Ink of a run by some windows of its real pixels, and by a coarse picture of all of it: what is fine makes the coarse picture wrong, by much
 * the same share everywhere; so it is corrected by the ratio that the windows show.
 * @param coarse mean ink of each channel over all of the coarse picture, 0 … 1
 * @param windows strewn evenly; at least two
 * Source: the ratio estimator of sampling with an auxiliary variable, and its error by the residuals.
 */
export function sampledInk(coarse: readonly number[], windows: readonly WindowInk[]): SampledInk[] {
  const n = windows.length;
  return coarse.map((whole, channel) => {
    const real = windows.map((each) => each.real[channel] ?? 0);
    const seen = windows.map((each) => each.coarse[channel] ?? 0);
    const [realSum, seenSum] = [sum(real), sum(seen)];
    // Where the coarse picture shows nothing of a channel, the windows alone say how much it is.
    const ratio = seenSum > 0 ? realSum / seenSum : 0;
    const share = seenSum > 0 ? ratio * whole : realSum / n;
    const off = seenSum > 0 ? real.map((ink, i) => ink - ratio * (seen[i] ?? 0)) : real.map((ink) => ink - realSum / n);
    const scale = seenSum > 0 ? (whole * n) / seenSum : 1;
    const error = scale * Math.sqrt(sum(off.map((each) => each * each)) / (n * Math.max(1, n - 1)));
    return { share: Math.min(1, share), within: share > 0 ? (2 * error) / share : 0 };
  });
}

/** Whether a sample is good enough: every channel that covers something is known within 2 %. */
export function isSure(channels: readonly SampledInk[]): boolean {
  return channels.every(({ share, within }) => share <= FAINT || within <= WITHIN);
}

/** How well a sample is known: of its channels that cover something, the least sure one's. */
export function sampledWithin(channels: readonly SampledInk[]): number {
  return channels.reduce((most, { share, within }) => (share <= FAINT ? most : Math.max(most, within)), 0);
}

function sum(values: readonly number[]): number {
  return values.reduce((all, each) => all + each, 0);
}
