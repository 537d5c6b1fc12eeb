import { tz } from '@date-fns/tz';
import { addDays, setHours, startOfWeek } from 'date-fns';

/** When the page of a week is sent: so many days after Monday, at a time of day, by the shop's clocks. */
export interface WeekTime {
  /** 1 Monday … 7 Sunday. */
  readonly weekday: number;
  /** `07:30`. */
  readonly at: string;
}

/** A week from Monday to Monday. */
export interface Week {
  readonly fromMs: number;
  readonly toMs: number;
}

/** The week of the shop's zone that holds an instant, so many weeks later. */
export function weekOf(ms: number, zone: string, offset = 0): Week {
  const inZone = { in: tz(zone) };
  const monday = startOfWeek(ms, { ...inZone, weekStartsOn: 1 });
  const from = addDays(monday, 7 * offset, inZone);
  return { fromMs: from.getTime(), toMs: addDays(from, 7, inZone).getTime() };
}

/**
 * The week whose page has come due: the last one that was over when it last was time to send.
 * @param sinceMs what came due before is nobody's: the page was asked for then
 * @returns undefined as long as it has not been time since
 */
export function weekDue({ weekday, at }: WeekTime, nowMs: number, sinceMs: number, zone: string): Week | undefined {
  const inZone = { in: tz(zone) };
  const timeIn = ({ fromMs }: Week): number => {
    const [hour = 0, minute = 0] = at.split(':').map(Number);
    const day = addDays(fromMs, weekday - 1, inZone);
    // 24:00 is the next day's midnight, and a time that a change of clocks leaves out comes an hour later.
    return setHours(day, hour, inZone).getTime() + minute * 60_000;
  };
  const now = weekOf(nowMs, zone);
  const timeMs = timeIn(now);
  const sentIn = timeMs <= nowMs ? now : weekOf(nowMs, zone, -1);
  return timeIn(sentIn) < sinceMs ? undefined : weekOf(sentIn.fromMs, zone, -1);
}
