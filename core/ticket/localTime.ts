import { TZDate } from '@date-fns/tz';
import { parseISO } from 'date-fns';

/** The instant (ms, UTC) of a local date and time in a zone; undefined where there is no such day or hour. */
export function instantOf(
  local: { readonly y: number; readonly mo: number; readonly d: number; readonly h: number; readonly mi: number },
  zone: string,
): number | undefined {
  const { y, mo, d, h, mi } = local;
  const date = new TZDate(y, mo - 1, d, h, mi, zone);
  const same = date.getFullYear() === y && date.getMonth() === mo - 1 && date.getDate() === d;
  // An hour that the change of the clocks leaves out does not exist.
  const there = date.getHours() === h && date.getMinutes() === mi;
  return same && there ? date.getTime() : undefined;
}

const DAY =
  /^(?:(\d{4})-?(\d\d)-?(\d\d)|(\d{1,2})\.(\d{1,2})\.(\d{4}))(?:[T_ -]?(\d\d)[:.h-]?(\d\d)(?::\d\d(?:\.\d+)?)?)?(Z|[+-]\d\d:?\d\d)?$/;

/**
 * Reads a due date: `2026-10-08`, `20261008`, `8.10.2026`, with or without `T14:00`, or a full instant with its offset.
 * Without a time the end of the shop's day is meant.
 * @returns instant in ms, undefined where it is no date
 */
export function parseDue(
  text: string,
  zone: string,
  dayEndsAt: { readonly h: number; readonly mi: number },
): number | undefined {
  const match = DAY.exec(text.trim());
  if (!match) return undefined;
  const [, y1, mo1, d1, d2, mo2, y2, h, mi, offset] = match;
  if (offset !== undefined) {
    const instant = parseISO(text.trim().replace(/([+-]\d\d)(\d\d)$/, '$1:$2')).getTime();
    return Number.isNaN(instant) ? undefined : instant;
  }
  const day = { y: Number(y1 ?? y2), mo: Number(mo1 ?? mo2), d: Number(d1 ?? d2) };
  const time = h === undefined ? dayEndsAt : { h: Number(h), mi: Number(mi) };
  return instantOf({ ...day, ...time }, zone);
}
