import { type Recurrence, ruleParts } from './rule.ts';
import { type WallTime, asUtc, instantOf, wallTimeOf } from './wallTime.ts';

const DAY_MS = 86_400_000;

/** How far an occurrence of a timer can be moved: its time of day alone, or to any day. */
type MoveRange = 'within its day' | 'to any day';

/**
 * A rule that names its days (weekdays, days of the month), or that comes every day, keeps them: only its time of day is moved. One
 * that comes once, every so many hours or every so many days is moved as a whole.
 */
export function moveRangeOf({ rrule }: Pick<Recurrence, 'rrule'>): MoveRange {
  if (rrule === null) return 'to any day';
  const parts = ruleParts(rrule);
  if (!parts.ok) return 'within its day';
  const { freq, interval } = parts.value;
  return freq === 'HOURLY' || (freq === 'DAILY' && interval > 1) ? 'to any day' : 'within its day';
}

/** The instant nearest to one that is wanted to which an occurrence can be moved, to so many minutes (instants in ms). */
export function moveTarget(
  recurrence: Pick<Recurrence, 'rrule'>,
  occurrenceMs: number,
  wantedMs: number,
  zone: string,
  stepMs: number,
): number {
  const snapped = occurrenceMs + Math.round((wantedMs - occurrenceMs) / stepMs) * stepMs;
  if (moveRangeOf(recurrence) === 'to any day') return snapped;
  const date = wallTimeOf(occurrenceMs, zone).slice(0, 10);
  const from = instantOf(`${date}T00:00`, zone);
  const to = instantOf(`${date}T23:59`, zone);
  return Math.min(to, Math.max(from, snapped));
}

/**
 * The start of a timer whose occurrence is moved to another instant: all that follow move alike.
 * @param toMs by {@link moveTarget}
 */
export function movedStart(
  { rrule, startLocal }: Pick<Recurrence, 'rrule' | 'startLocal'>,
  occurrenceMs: number,
  toMs: number,
  zone: string,
): WallTime {
  if (rrule === null) return wallTimeOf(toMs, zone);
  const parts = ruleParts(rrule);
  if (parts.ok && parts.value.freq === 'HOURLY') {
    return wallTimeOf(instantOf(startLocal, zone) + toMs - occurrenceMs, zone);
  }
  const to = wallTimeOf(toMs, zone);
  const days = Math.round((dayOf(to) - dayOf(wallTimeOf(occurrenceMs, zone))) / DAY_MS);
  const date = wallTimeOf(dayOf(startLocal) + days * DAY_MS, 'UTC').slice(0, 10);
  return `${date}T${to.slice(11)}`;
}

function dayOf(wall: WallTime): number {
  return asUtc(`${wall.slice(0, 10)}T00:00`);
}
