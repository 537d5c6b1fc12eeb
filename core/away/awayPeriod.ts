import type { AwayEvent, AwayFigures } from './awayEvents.ts';
import type { Odds } from './nights.ts';

/** An armed time away ends by itself, or is disarmed by a person. */
export const AWAY_STATES = ['armed', 'ended', 'disarmed'] as const;
export type AwayState = (typeof AWAY_STATES)[number];

/** A plan as it is kept with the time away that it was armed for. */
export interface KeptPlan {
  readonly events: readonly AwayEvent[];
  readonly figures: AwayFigures;
  /** That every run of it is printed; null: nobody asked. */
  readonly odds: Odds | null;
}

/** Why a time away can't be. */
export type PeriodRefusal =
  { readonly code: 'backwards' } | { readonly code: 'past' } | { readonly code: 'too-far'; readonly mostMs: number };

/** So far ahead timers and hours are planned. */
export const MOST_AHEAD_MS = 8 * 86_400_000;

/** Whether a time away can be planned: it ends after it begins, lies ahead, and as far as plans reach. */
export function checkPeriod(
  { fromMs, toMs }: { readonly fromMs: number; readonly toMs: number },
  nowMs: number,
): PeriodRefusal | undefined {
  if (toMs <= fromMs) return { code: 'backwards' };
  if (toMs <= nowMs) return { code: 'past' };
  if (toMs > nowMs + MOST_AHEAD_MS) return { code: 'too-far', mostMs: MOST_AHEAD_MS };
  return undefined;
}

export interface NamedPeriod {
  readonly name: 'tonight' | 'the weekend' | 'a week';
  readonly fromMs: number;
  readonly toMs: number;
}

const DAY = 86_400_000;

/**
 * The times away that shop hours suggest: from when the last goes until the next comes; the longest gap of the days ahead where it is
 * longer than a night; and the week from the next closing on, whoever comes in between.
 * @param spans when somebody is there, in order
 */
export function namedPeriods(
  spans: readonly { readonly fromMs: number; readonly toMs: number }[],
  nowMs: number,
): NamedPeriod[] {
  const ahead = spans.filter(({ toMs }) => toMs > nowMs && Number.isFinite(toMs));
  const gaps: { fromMs: number; toMs: number }[] = [];
  const [first] = ahead;
  if (!first) return [];
  if (first.fromMs > nowMs) gaps.push({ fromMs: nowMs, toMs: first.fromMs });
  ahead.forEach(({ toMs }, i) => {
    const next = ahead[i + 1];
    // Minutes between two spans are a break, not a time away.
    if (next && next.fromMs - toMs > 3_600_000 && next.fromMs <= nowMs + MOST_AHEAD_MS) {
      gaps.push({ fromMs: toMs, toMs: next.fromMs });
    }
  });
  const [tonight] = gaps.filter((gap) => checkPeriod(gap, nowMs) === undefined);
  if (!tonight) return [];
  const longest = gaps
    .filter((gap) => checkPeriod(gap, nowMs) === undefined)
    .reduce((best, gap) => (gap.toMs - gap.fromMs > best.toMs - best.fromMs ? gap : best));
  const week = { fromMs: tonight.fromMs, toMs: Math.min(tonight.fromMs + 7 * DAY, nowMs + MOST_AHEAD_MS) };
  return [
    { name: 'tonight', ...tonight },
    ...(longest.toMs - longest.fromMs > DAY ? [{ name: 'the weekend' as const, ...longest }] : []),
    { name: 'a week', ...week },
  ];
}
