import { TZDate } from '@date-fns/tz';

/** A local time to the minute, as it is written: `2027-03-28T02:30`. It has no zone of its own. */
export type WallTime = string;

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;
const WALL = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})$/;

/** The instant at which clocks without a zone show this (ms); not a number where it isn't written like that. */
export function asUtc(wall: WallTime): number {
  const [year = 0, month = 1, day = 1, hour = 0, minute = 0] = (WALL.exec(wall) ?? []).slice(1).map(Number);
  return WALL.test(wall) ? new TZDate(year, month - 1, day, hour, minute, 'UTC').getTime() : NaN;
}

/** What clocks in a zone show at an instant, to the minute. */
export function wallTimeOf(ms: number, zone: string): WallTime {
  const at = new TZDate(ms, zone);
  const two = (value: number): string => String(value).padStart(2, '0');
  const date = `${String(at.getFullYear()).padStart(4, '0')}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
  return `${date}T${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** Whether a text is a local time that exists on a calendar. */
export function isWallTime(text: string): boolean {
  const ms = asUtc(text);
  return !Number.isNaN(ms) && wallTimeOf(ms, 'UTC') === text;
}

/**
 * The instant (UTC, ms) of a local time. One that a change of clocks leaves out is taken with the offset before the change; one
 * that comes twice is the first (RFC 5545, 3.3.5).
 * @param zone IANA name
 */
export function instantOf(wall: WallTime, zone: string): number {
  const shown = asUtc(wall);
  const offset = (ms: number): number => -new TZDate(ms, zone).getTimezoneOffset() * MINUTE_MS;
  const before = shown - offset(shown - DAY_MS);
  const after = shown - offset(shown + DAY_MS);
  const real = [before, after].filter((ms) => ms + offset(ms) === shown);
  return real.length > 0 ? Math.min(...real) : before;
}
