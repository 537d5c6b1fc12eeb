import { preferences } from '../ui/preferences.ts';

/** An instant of the real clock, not of the shop's: day and time, as this person reads them, in the zone of this machine. */
export function realTimeText(ms: number): string {
  return new Intl.DateTimeFormat(preferences().locale, {
    ...{ day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' },
  }).format(ms);
}

/** A day of the real clock. */
export function realDayText(ms: number): string {
  return new Intl.DateTimeFormat(preferences().locale, { day: 'numeric', month: 'short', year: 'numeric' }).format(ms);
}
