import { float64At } from '../elementAt.ts';
import { LEARNED_FROM, type LearnedRatio, type RatioSums, learnedFrom, surpriseOf } from './learnedRatio.ts';

/**
 * When a series of ratios (actual ÷ estimate, ink by the device ÷ ink asked for) is no longer as it was: two sums that grow
 * while values lie on one side of what was learned before them (cumulative sums, drift ½).
 */

/** A change that was found. */
export interface Change {
  /** Place of the first value after it. */
  readonly since: number;
  /** Place of the value at which it was sure enough. */
  readonly seen: number;
  readonly direction: 'up' | 'down';
}

/** Within a value as surprising as this nothing adds up. */
const DRIFT = 0.5;

/**
 * The height at which an alarm is false once in so many values while nothing changes: h = b − 1.166, where e^b − b − 1 = A.
 * @param values A, more than 2
 */
export function alarmHeight(values: number): number {
  let [low, high] = [0, Math.log(values) + 2];
  for (let i = 0; i < 80; i += 1) {
    const mid = (low + high) / 2;
    if (Math.exp(mid) - mid - 1 < values) low = mid;
    else high = mid;
  }
  return low - 1.166;
}

/** Watches one series; after an alarm it begins anew. */
export class ChangeWatch {
  private up = 0;
  private down = 0;
  private upFrom = 0;
  private downFrom = 0;
  private seen = 0;

  constructor(private readonly height: number) {}

  /** @param z standard normal while nothing changes */
  next(z: number): Change | undefined {
    const at = this.seen;
    this.seen += 1;
    this.up = Math.max(0, this.up + z - DRIFT);
    this.down = Math.max(0, this.down - z - DRIFT);
    if (this.up === 0) this.upFrom = this.seen;
    if (this.down === 0) this.downFrom = this.seen;
    const direction = this.up > this.height ? 'up' : this.down > this.height ? 'down' : undefined;
    if (direction === undefined) return undefined;
    const since = direction === 'up' ? this.upFrom : this.downFrom;
    this.up = 0;
    this.down = 0;
    this.upFrom = this.seen;
    this.downFrom = this.seen;
    return { since, seen: at, direction };
  }
}

/** What a series has come to. */
export interface WatchedSeries {
  /** What is known from its last change on. */
  readonly learned: LearnedRatio;
  /** Values since then. */
  readonly count: number;
  readonly changes: readonly (Change & {
    /** Mean of the logarithm since, less what it was before: e^size − 1 is the share by which it has grown. */
    readonly size: number;
  })[];
}

/**
 * Learns a series and finds where it changed; after each change learning starts anew from there.
 * @param ratios the oldest first; all above 0
 * @param m0 mean of the logarithm as the level above has learned it
 */
export function watchRatios(ratios: readonly number[], m0: number, height: number): WatchedSeries {
  const watch = new ChangeWatch(height);
  const changes: (Change & { size: number })[] = [];
  const sums = new LogSums(ratios);
  let from = 0;
  // Only the last of them count in what is learned.
  const known = (end: number): LearnedRatio => learnedFrom(sums.between(Math.max(from, end - LEARNED_FROM), end), m0);
  for (const [i, ratio] of ratios.entries()) {
    const change = watch.next(surpriseOf(ratio, known(i)));
    if (!change) continue;
    const before = learnedFrom(sums.between(Math.max(from, change.since - LEARNED_FROM), change.since), m0).m;
    changes.push({ ...change, size: sums.between(change.since, i + 1).mean - before });
    from = change.since;
  }
  return { learned: known(ratios.length), count: ratios.length - from, changes };
}

/** Sums of the logarithms of a series up to each of its values, so that those of any stretch cost nothing. */
class LogSums {
  private readonly sums: Float64Array;
  private readonly squares: Float64Array;
  /** Squares are taken about this, so that they do not cancel out. */
  private readonly about: number;

  constructor(ratios: readonly number[]) {
    this.sums = new Float64Array(ratios.length + 1);
    this.squares = new Float64Array(ratios.length + 1);
    this.about = Math.log(ratios[0] ?? 1);
    for (const [i, ratio] of ratios.entries()) {
      const y = Math.log(ratio) - this.about;
      this.sums[i + 1] = float64At(this.sums, i) + y;
      this.squares[i + 1] = float64At(this.squares, i) + y * y;
    }
  }

  between(from: number, to: number): RatioSums {
    const n = to - from;
    if (n <= 0) return { n: 0, mean: 0, squares: 0 };
    const sum = float64At(this.sums, to) - float64At(this.sums, from);
    const squares = float64At(this.squares, to) - float64At(this.squares, from);
    return { n, mean: this.about + sum / n, squares: Math.max(0, squares - (sum * sum) / n) };
  }
}
