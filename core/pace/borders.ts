import { tz } from '@date-fns/tz';
import { addDays, startOfDay } from 'date-fns';

const HOUR_MS = 3_600_000;

/** How finely facts are added up. */
export type Grain = 'hour' | 'day';

/**
 * Where hours, or days of a shop, begin that hold a span whole, and where the last one ends. Hours are counted from the beginning of
 * their day, so that they add up to days in zones that are off by half an hour as well.
 */
export function bordersOf(grain: Grain, fromMs: number, toMs: number, zone: string): number[] {
  const inZone = { in: tz(zone) };
  const days = [startOfDay(fromMs, inZone).getTime()];
  while ((days.at(-1) ?? 0) <= toMs) days.push(addDays(days.at(-1) ?? 0, 1, inZone).getTime());
  if (grain === 'day') return days;
  const hours = days.slice(0, -1).flatMap((day, i) => {
    const next = days[i + 1] ?? day;
    return Array.from({ length: Math.ceil((next - day) / HOUR_MS) }, (_, h) => day + h * HOUR_MS);
  });
  const first = Math.max(
    0,
    hours.findLastIndex((ms) => ms <= fromMs),
  );
  const last = hours.findIndex((ms) => ms > toMs);
  return last < 0 ? [...hours.slice(first), days.at(-1) ?? 0] : hours.slice(first, last + 1);
}
