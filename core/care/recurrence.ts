import 'temporal-polyfill/global';
import { TZDate } from '@date-fns/tz';
import { RRuleTemporal } from 'rrule-temporal';
import { type Recurrence, ruleParts } from './rule.ts';
import { asUtc, instantOf, wallTimeOf } from './wallTime.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** A rule that has found nothing for so long finds nothing. */
const FARTHEST_MS = 30 * 366 * DAY_MS;
/** More than this many are never asked for at once. */
const MOST = 10_000;

/**
 * The instants (UTC, ms) after `afterMs` at which something comes round, in order.
 *
 * Days, weeks and months are those of a calendar in the shop's zone (RFC 5545); *every N hours* counts elapsed hours from the start,
 * whatever clocks do.
 * @param zone IANA name
 * @param which how many at most (10,000 is the limit), and before which instant; `known`: an occurrence not after the first that is
 *   wanted, from which counting begins in place of the start. Work grows with the time that is looked at.
 * @throws where {@link checkRecurrence} refuses
 */
export function occurrencesAfter(
  recurrence: Recurrence,
  zone: string,
  afterMs: number,
  which: { readonly count?: number; readonly beforeMs?: number; readonly known?: number | undefined },
): number[] {
  const { count = MOST, beforeMs = Infinity, known } = which;
  const { rrule, startLocal, untilLocal } = recurrence;
  const untilMs = Math.min(untilLocal === null ? Infinity : instantOf(untilLocal, zone), beforeMs - 1);
  const startMs = instantOf(startLocal, zone);
  if (rrule === null) return startMs > afterMs && startMs <= untilMs && count > 0 ? [startMs] : [];
  const parts = ruleParts(rrule);
  if (!parts.ok) throw new Error(parts.reason.text);
  const found: number[] = [];
  const most = Math.min(count, MOST);
  if (parts.value.freq === 'HOURLY') {
    const stepMs = parts.value.interval * HOUR_MS;
    const from = Math.max(0, Math.floor((afterMs - startMs) / stepMs) + 1);
    for (let i = from; found.length < most; i += 1) {
      const at = startMs + i * stepMs;
      if (at > untilMs) break;
      found.push(at);
    }
    return found;
  }
  // Wall times run in a zone without changes of clocks; each is looked up in the shop's zone afterwards, by one rule.
  const from = known !== undefined && known <= afterMs && known > startMs ? wallTimeOf(known, zone) : startLocal;
  // A wall time that was moved by a change of clocks is no occurrence of its own: it is counted from the start.
  const anchor = instantOf(from, zone) === known && from.slice(11) === startLocal.slice(11) ? from : startLocal;
  const rule = new RRuleTemporal({
    rruleString: rrule.replace(/^RRULE:/i, ''),
    dtstart: Temporal.ZonedDateTime.from(`${anchor}:00[UTC]`),
  });
  // A day earlier: what a change of clocks moves to behind `afterMs` begins before it.
  const fromWall = Math.max(asUtc(anchor), asUtc(wallTimeOf(Math.max(afterMs, 0), zone)) - DAY_MS);
  const { freq, interval } = parts.value;
  const step = { DAILY: 1, WEEKLY: 7, MONTHLY: 31 }[freq] * interval * DAY_MS;
  // Looked for ever further ahead: the 29th of February comes every fourth year, the 31st of every other February never.
  const farthest = Math.min(FARTHEST_MS, Math.max(0, untilMs - fromWall + 2 * DAY_MS));
  for (let far = Math.min(farthest, (most + 1) * step + 2 * DAY_MS); ; far = Math.min(farthest, far * 4)) {
    found.length = 0;
    for (const wall of rule.between(new TZDate(fromWall, 'UTC'), new TZDate(fromWall + far, 'UTC'), true)) {
      const at = instantOf(wallTimeOf(wall.epochMilliseconds, 'UTC'), zone);
      if (at > untilMs || found.length >= most) return found;
      if (at > afterMs && at !== found.at(-1)) found.push(at);
    }
    if (found.length >= most || far >= farthest) return found;
  }
}
