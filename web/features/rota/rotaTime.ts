import { TZDate } from '@date-fns/tz';
import { addDays, addMonths, startOfDay, startOfMonth, startOfWeek } from 'date-fns';

export const SPANS = ['day', 'week', 'month'] as const;
export type Span = (typeof SPANS)[number];

export interface RotaSpan {
  readonly fromMs: number;
  readonly toMs: number;
  /** The midnights in it, and its end. */
  readonly days: readonly number[];
}

/** The day, week or month of the shop's zone that holds an instant, so many of them later. */
export function rotaSpan(span: Span, nowMs: number, offset: number, zone: string): RotaSpan {
  const now = new TZDate(nowMs, zone);
  const from =
    span === 'day'
      ? addDays(startOfDay(now), offset)
      : span === 'week'
        ? addDays(startOfWeek(now, { weekStartsOn: 1 }), 7 * offset)
        : addMonths(startOfMonth(now), offset);
  const to = span === 'day' ? addDays(from, 1) : span === 'week' ? addDays(from, 7) : addMonths(from, 1);
  const days: number[] = [];
  for (let day = from; day.getTime() <= to.getTime(); day = addDays(day, 1)) days.push(day.getTime());
  return { fromMs: from.getTime(), toMs: to.getTime(), days };
}

/** Where an instant lies in a span, as a share of its width. */
export function shareOf(ms: number, { fromMs, toMs }: Pick<RotaSpan, 'fromMs' | 'toMs'>): number {
  return Math.min(1, Math.max(0, (ms - fromMs) / (toMs - fromMs)));
}
