import { tzOffset } from '@date-fns/tz';

/** A local time to the minute, as it is written: `2027-03-28T02:30`. It has no zone of its own. */
export type WallTime = string;

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;
const WALL = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})$/;

/** Whether a text is a local time that exists on a calendar. */
export function isWallTime(text: string): boolean {
  if (!WALL.test(text)) return false;
  const ms = Date.parse(`${text}:00Z`);
  return !Number.isNaN(ms) && new Date(ms).toISOString().startsWith(text);
}

/**
 * The instant (UTC, ms) of a local time. One that a change of clocks leaves out is taken with the offset before the change; one
 * that comes twice is the first (RFC 5545, 3.3.5).
 * @param zone IANA name
 */
export function instantOf(wall: WallTime, zone: string): number {
  const asUtc = Date.parse(`${wall}:00Z`);
  const offset = (ms: number): number => tzOffset(zone, new Date(ms)) * MINUTE_MS;
  const before = asUtc - offset(asUtc - DAY_MS);
  const after = asUtc - offset(asUtc + DAY_MS);
  const shown = [before, after].filter((ms) => ms + offset(ms) === asUtc);
  return shown.length > 0 ? Math.min(...shown) : before;
}

/** What clocks in a zone show at an instant, to the minute. */
export function wallTimeOf(ms: number, zone: string): WallTime {
  return new Date(ms + tzOffset(zone, new Date(ms)) * MINUTE_MS).toISOString().slice(0, 16);
}
