import { type Result, ok, refuse } from '../result.ts';

/** One point of a curve, both 0 … 1. */
export interface CurvePoint {
  readonly at: number;
  readonly to: number;
}

/** What a channel is bent by: `red`, `green` and `blue` before colours become inks, a printer's channel after it. */
export interface ChannelCurve {
  readonly channel: string;
  readonly points: CurvePoint[];
}

/** Channels of the artwork, before the profile. */
export const INPUT_CHANNELS = ['red', 'green', 'blue'] as const;

export function isInputCurve({ channel }: ChannelCurve): boolean {
  return (INPUT_CHANNELS as readonly string[]).includes(channel);
}

/**
 * Whether a set of curves can be used: one for each channel, places that grow, nothing that puts ink on bare media (a curve of an ink begins
 * at 0, and one of the artwork ends at white).
 * @returns what is wrong as a sentence
 */
export function checkCurves(curves: readonly ChannelCurve[]): Result<void, string> {
  const seen = new Set<string>();
  for (const curve of curves) {
    const { channel, points } = curve;
    if (seen.has(channel)) return refuse(`Two curves bend ${channel}.`);
    seen.add(channel);
    for (const [i, { at }] of points.entries()) {
      if (i > 0 && at <= (points[i - 1]?.at ?? 0) + 1e-9)
        return refuse(`The points of the curve of ${channel} must stand one behind the other.`);
    }
    const bare = isInputCurve(curve) ? 1 : 0;
    const moved = points.find(({ at, to }) => at === bare && to !== bare);
    if (moved) return refuse(`The curve of ${channel} would put ink on bare media.`);
  }
  return ok(undefined);
}

/** Bends ink of a printer's channels by their curves; those of channels that it lacks, and those of the artwork, do nothing. */
export function channelBends(
  channels: readonly string[],
  curves: readonly ChannelCurve[],
): (channel: number, ink: number) => number {
  const bends = channels.map((id) => {
    const curve = curves.find((each) => !isInputCurve(each) && each.channel === id);
    return curve && curveOf(curve.points);
  });
  return (channel, ink) => bends[channel]?.(ink) ?? ink;
}

/**
 * A curve as a function: through its points without overshooting (monotone cubic pieces after Fritsch and Carlson), so that where the points
 * rise the curve rises. 0 → 0 and 1 → 1 hold where no point says otherwise.
 */
export function curveOf(points: readonly CurvePoint[]): (value: number) => number {
  const all = [...points];
  if ((all[0]?.at ?? 1) > 0) all.unshift({ at: 0, to: 0 });
  if ((all[all.length - 1]?.at ?? 0) < 1) all.push({ at: 1, to: 1 });
  const slopes = all.slice(1).map(({ at, to }, i) => {
    const before = all[i] ?? { at: 0, to: 0 };
    return (to - before.to) / (at - before.at);
  });
  const tangents = all.map((_, i) => {
    const before = slopes[i - 1];
    const after = slopes[i];
    if (before === undefined || after === undefined) return before ?? after ?? 0;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  slopes.forEach((slope, i) => {
    if (slope === 0) {
      tangents[i] = 0;
      tangents[i + 1] = 0;
      return;
    }
    const a = (tangents[i] ?? 0) / slope;
    const b = (tangents[i + 1] ?? 0) / slope;
    const length = Math.hypot(a, b);
    if (length <= 3) return;
    tangents[i] = (3 * a * slope) / length;
    tangents[i + 1] = (3 * b * slope) / length;
  });
  return (value) => {
    const v = Math.min(1, Math.max(0, value));
    const i = Math.max(0, Math.min(all.length - 2, all.findIndex(({ at }) => at >= v) - 1));
    const [from, to] = [all[i], all[i + 1]];
    if (!from || !to) return v;
    const width = to.at - from.at;
    const t = (v - from.at) / width;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * from.to +
      (t3 - 2 * t2 + t) * width * (tangents[i] ?? 0) +
      (3 * t2 - 2 * t3) * to.to +
      (t3 - t2) * width * (tangents[i + 1] ?? 0)
    );
  };
}
