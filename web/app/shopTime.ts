import { createContext, useContext, useEffect, useState } from 'react';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import type { ShopTime } from '../api/live.ts';

export const ShopTimeContext = createContext<ShopTime | undefined>(undefined);

export function shopNow(time: ShopTime): number {
  return time.shopMs + (performance.now() - time.heardAt) * time.rate;
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

export function useZone(): string {
  return useContext(ShopTimeContext)?.zone ?? 'UTC';
}

/** `14:20`, or with the day where it is not today's. */
export function clockText(ms: number, nowMs: number, zone: string): string {
  const inZone = tz(zone);
  const sameDay = format(ms, 'yyyy-MM-dd', { in: inZone }) === format(nowMs, 'yyyy-MM-dd', { in: inZone });
  return format(ms, sameDay ? 'HH:mm' : 'EEE d MMM HH:mm', { in: inZone });
}

/** The same in two parts: the day, `today` where it is, and the time. */
export function dayAndTime(ms: number, nowMs: number, zone: string): readonly [day: string, time: string] {
  const inZone = { in: tz(zone) };
  const sameDay = format(ms, 'yyyy-MM-dd', inZone) === format(nowMs, 'yyyy-MM-dd', inZone);
  return [sameDay ? 'today' : format(ms, 'EEE d MMM', inZone), format(ms, 'HH:mm', inZone)];
}

export function dayText(ms: number, zone: string): string {
  return format(ms, 'EEE d MMM HH:mm', { in: tz(zone) });
}

/** `2 h 05 min`, `4 min`, `30 s`. */
export function durationText(ms: number): string {
  const s = Math.max(0, Math.round(ms / 1000));
  if (s < 60) return `${String(s)} s`;
  const minutes = Math.round(s / 60);
  if (minutes < 60) return `${String(minutes)} min`;
  return `${String(Math.floor(minutes / 60))} h ${String(minutes % 60).padStart(2, '0')} min`;
}
