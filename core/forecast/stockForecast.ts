import { normalQuantile } from '../distributions.ts';

/**
 * How a stock is used and how long it will last: a level that is smoothed day by day, with factors of weekdays and, from two
 * years on, of months. Lengths in any one unit (mm here).
 */

/** What was used on one day on which the shop was open; what was used on closed days is counted with the next open one. */
export interface DayUse {
  /** By ISO, 1 is Monday. */
  readonly weekday: number;
  /** 1 to 12. */
  readonly month: number;
  readonly usedMm: number;
}

/** A day to come on which the shop is open. */
export interface DayAhead {
  readonly weekday: number;
  readonly month: number;
}

/** What is known of the use of a stock. */
export interface UsePattern {
  /** Use of a day without its weekday's and month's factor (mm). */
  readonly level: number;
  /** Root mean square of what each day was off by (mm). */
  readonly sigma: number;
  readonly weekdays: ReadonlyMap<number, number>;
  /** Empty until there are two years of it. */
  readonly months: ReadonlyMap<number, number>;
  /** Fewer than ten days: the plain mean, and no more is claimed. */
  readonly isFewData: boolean;
}

/** How much of what a day was off by goes into the level. */
const SMOOTHING = 0.1;
/** Days of the mean that each factor is drawn towards. */
const PRIOR_DAYS = 4;
const LEAST_DAYS = 10;
/** From so many weeks on months have factors of their own. */
const MONTHS_FROM_WEEKS = 104;
const DAYS_A_WEEK = 7;

function factorsBy<K>(days: readonly { readonly key: K; readonly share: number }[]): Map<K, number> {
  const sums = new Map<K, { sum: number; count: number }>();
  for (const { key, share } of days) {
    const own = sums.get(key) ?? { sum: 0, count: 0 };
    sums.set(key, { sum: own.sum + share, count: own.count + 1 });
  }
  return new Map([...sums].map(([key, { sum, count }]) => [key, (sum + PRIOR_DAYS) / (count + PRIOR_DAYS)]));
}

/**
 * Learns the use of a stock from its open days, the oldest first.
 * @param spanDays days of the calendar that they lie in
 * @returns undefined: nothing of it was used
 */
export function usePattern(days: readonly DayUse[], spanDays: number): UsePattern | undefined {
  const mean = days.reduce((sum, { usedMm }) => sum + usedMm, 0) / Math.max(1, days.length);
  if (mean <= 0) return undefined;
  if (days.length < LEAST_DAYS) {
    return { level: mean, sigma: 0, weekdays: new Map(), months: new Map(), isFewData: true };
  }
  const weekdays = factorsBy(days.map(({ weekday, usedMm }) => ({ key: weekday, share: usedMm / mean })));
  const months =
    spanDays >= MONTHS_FROM_WEEKS * DAYS_A_WEEK
      ? factorsBy(
          days.map(({ month, weekday, usedMm }) => ({
            key: month,
            share: usedMm / (mean * (weekdays.get(weekday) ?? 1)),
          })),
        )
      : new Map<number, number>();
  let level = mean;
  let squares = 0;
  for (const day of days) {
    const off = day.usedMm / factorOf({ weekdays, months }, day) - level;
    squares += off * off;
    level += SMOOTHING * off;
  }
  return { level, sigma: Math.sqrt(squares / days.length), weekdays, months, isFewData: false };
}

function factorOf({ weekdays, months }: Pick<UsePattern, 'weekdays' | 'months'>, { weekday, month }: DayAhead): number {
  return (weekdays.get(weekday) ?? 1) * (months.get(month) ?? 1);
}

/** Use until the end of a day to come. */
export interface UseUntil {
  readonly mean: number;
  /** Standard deviation: of the days, and of the level that every later day goes by. */
  readonly spread: number;
}

/** Use until the end of each of the coming open days, added up. */
export function useAhead(pattern: UsePattern, days: readonly DayAhead[]): UseUntil[] {
  const factors = days.map((day) => factorOf(pattern, day));
  return factors.map((_, last) => {
    let variance = 0;
    // From the last day back: what a day is off by moves the level that all later ones go by.
    let later = 0;
    let sum = 0;
    for (let j = last; j >= 0; j -= 1) {
      const own = factors[j] ?? 1;
      variance += (own + SMOOTHING * later) ** 2;
      later += own;
      sum += own;
    }
    return { mean: pattern.level * sum, spread: pattern.sigma * Math.sqrt(variance) };
  });
}

/** Whole open days that a length lasts: early and late are those that 1 in 10 are beyond. Null: longer than was looked ahead. */
export interface DaysLasting {
  readonly early: number | null;
  readonly likely: number | null;
  readonly late: number | null;
}

const EARLY = normalQuantile(0.9);

/**
 * How many open days it lasts. Need up to a day is the larger of the forecast and what is queued for then: queued work is part of what is
 * forecast.
 * @param queuedUntil what of it queued runs take by the end of each day (mm); left out: none
 */
export function daysLasting(
  ahead: readonly UseUntil[],
  leftMm: number,
  queuedUntil: readonly number[] = [],
): DaysLasting {
  const last = (q: number): number | null => {
    const beyond = ahead.findIndex(({ mean, spread }, d) => Math.max(mean + q * spread, queuedUntil[d] ?? 0) > leftMm);
    return beyond < 0 ? null : beyond;
  };
  return { early: last(EARLY), likely: last(0), late: last(-EARLY) };
}

/** How a stock is ordered. */
export interface OrderTerms {
  /** Open days from the order until it is there. */
  readonly leadDays: number;
  /** It is ordered for so many open days beyond that. */
  readonly coverDays: number;
  readonly leastMm: number;
  /** Comes in packs of this length. */
  readonly packMm: number;
}

/** What is to be ordered, and when. */
export interface OrderAdvice {
  /** Below this it is ordered (mm). */
  readonly reorderPointMm: number;
  /** It has to be ordered now. */
  readonly isDue: boolean;
  readonly packs: number;
  readonly orderMm: number;
  /** Open days from now on after which it falls to the reorder point; null: not within what was looked ahead. */
  readonly dueInDays: number | null;
}

/** Covers 95 of 100 lead times. */
const SAFE = normalQuantile(0.95);

/**
 * Whether, when and how much to order: at the reorder point, up to what lead time and cover need, in whole packs.
 * @param ahead use until the end of each open day, at least lead + cover days of them
 * @param onOrderMm ordered and not there yet
 */
export function orderAdvice(
  ahead: readonly UseUntil[],
  { leftMm, onOrderMm, queuedUntil = [] }: { leftMm: number; onOrderMm: number; queuedUntil?: readonly number[] },
  terms: OrderTerms,
): OrderAdvice {
  const needUntil = (days: number): number => {
    const at = Math.min(days, ahead.length) - 1;
    const until = ahead[at];
    if (!until) return terms.leastMm;
    return Math.max(until.mean + SAFE * until.spread, queuedUntil[at] ?? 0) + terms.leastMm;
  };
  const reorderPointMm = needUntil(terms.leadDays);
  const haveMm = leftMm + onOrderMm;
  const isDue = haveMm <= reorderPointMm;
  const missing = needUntil(terms.leadDays + terms.coverDays) - haveMm;
  const packs = isDue ? Math.max(1, Math.ceil(missing / terms.packMm - 1e-9)) : 0;
  // On a day to come the lead time begins there: what was used until then is gone from what there is.
  const lead = ahead[Math.min(terms.leadDays, ahead.length) - 1];
  const dueAt = ahead.findIndex((_, d) => {
    const then = ahead[d + terms.leadDays];
    if (!then) return false;
    const needMm = Math.max(then.mean + SAFE * (lead?.spread ?? 0), queuedUntil[d + terms.leadDays] ?? 0);
    return haveMm <= needMm + terms.leastMm;
  });
  return {
    reorderPointMm,
    isDue,
    packs,
    orderMm: packs * terms.packMm,
    dueInDays: isDue ? 0 : dueAt < 0 ? null : dueAt + 1,
  };
}
