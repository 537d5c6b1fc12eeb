import { preferences } from '../ui/preferences.ts';
import { createContext, useContext, useEffect, useState } from 'react';
import type { ShopTime } from '../api/live.ts';

export const ShopTimeContext = createContext<ShopTime | undefined>(undefined);

/** What the shop clock shows now, by its rate since it was last told. */
export function shopNow(time: ShopTime): number {
  return Math.min(time.untilMs ?? Infinity, time.shopMs + (performance.now() - time.heardAt) * time.rate);
}

/** How fast it runs at present. */
export function shopRate(time: ShopTime): number {
  return time.untilMs !== null && shopNow(time) >= time.untilMs ? 0 : time.rate;
}

/** The shop's present instant, renewed every `everyMs` of real time. Undefined until the server has told it. */
export function useShopNow(everyMs: number): number | undefined {
  const time = useContext(ShopTimeContext);
  const [, renew] = useState(0);
  useEffect(() => {
    const timer = window.setInterval(() => {
      renew((n) => n + 1);
    }, everyMs);
    return () => {
      window.clearInterval(timer);
    };
  }, [everyMs]);
  return time && shopNow(time);
}

/** The time zone of the shop, whatever zone this computer is in. */
export function useZone(): string {
  return useContext(ShopTimeContext)?.zone ?? 'UTC';
}

interface InstantWords {
  /** Of the calendar, to compare by. */
  readonly date: string;
  readonly day: string;
  readonly time: string;
}

interface Formats {
  readonly date: Intl.DateTimeFormat;
  readonly day: Intl.DateTimeFormat;
  readonly time: Intl.DateTimeFormat;
}

const formatters = new Map<string, Formats>();
/** By locale, zone and minute: strips name the same hundreds of instants again and again. */
const named = new Map<string, InstantWords>();
const MOST_NAMED = 5000;

function formatsFor(locale: string, zone: string): Formats {
  const key = `${locale} ${zone}`;
  const known = formatters.get(key);
  if (known) return known;
  const made = {
    date: new Intl.DateTimeFormat('sv-SE', { timeZone: zone }),
    day: new Intl.DateTimeFormat(locale, { timeZone: zone, weekday: 'short', day: 'numeric', month: 'short' }),
    time: new Intl.DateTimeFormat(locale, { timeZone: zone, hour: '2-digit', minute: '2-digit' }),
  };
  formatters.set(key, made);
  return made;
}

/** Words for an instant in the zone of the shop. Each minute is put into words once: lists ask for thousands. */
function wordsOfInstant(ms: number, zone: string): InstantWords {
  const { locale } = preferences();
  const key = `${locale} ${zone}/${String(Math.floor(ms / 60_000))}`;
  const known = named.get(key);
  if (known) return known;
  const { date, day, time } = formatsFor(locale, zone);
  const words = { date: date.format(ms), day: day.format(ms).replace(',', ''), time: time.format(ms) };
  if (named.size >= MOST_NAMED) named.clear();
  named.set(key, words);
  return words;
}

/** `14:20`, or with the day where it is not today's: `Wed 18 Nov 09:05`; as the person writes it. */
export function clockText(ms: number, nowMs: number, zone: string): string {
  const { date, day, time } = wordsOfInstant(ms, zone);
  return date === wordsOfInstant(nowMs, zone).date ? time : `${day} ${time}`;
}

/** The same in two parts: the day, `today` where it is, and the time. */
export function dayAndTime(ms: number, nowMs: number, zone: string): readonly [day: string, time: string] {
  const { date, day, time } = wordsOfInstant(ms, zone);
  return [date === wordsOfInstant(nowMs, zone).date ? 'today' : day, time];
}

/** `Wed 18 Nov 09:05`, of today as well. */
export function dayText(ms: number, zone: string): string {
  const { day, time } = wordsOfInstant(ms, zone);
  return `${day} ${time}`;
}

/** `14:20`. */
export function timeText(ms: number, zone: string): string {
  return wordsOfInstant(ms, zone).time;
}

/** `Wed 18 Nov`. */
export function dateText(ms: number, zone: string): string {
  return wordsOfInstant(ms, zone).day;
}
